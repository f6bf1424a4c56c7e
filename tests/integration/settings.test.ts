/** The page Settings: what is declared and where it comes from, what nodes see of it, and a renderer that is tried. */
import fs from "node:fs/promises";
import path from "node:path";
import { startTry, viewTry } from "@/server/actions/try-renderer";
import { closePool } from "@/server/db/pool";
import { viewHouseSeen, viewSettings } from "@/server/views/settings";
import { bringLamp, declaredInDocs } from "../support/lantern";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage(undefined, {
    renderers: {
      ...declaredInDocs("lantern"),
      gone: { program: "/nowhere/render", arguments: ["{scene}"] },
    },
    keep: { logDays: 7 },
  });
  bringLamp(stage.projectFolder);
  await stage.startNode("quay-1");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const tried = async (change: object) => {
  const wish = { node: "quay-1", project: "test-film", scene: "scenes/lamp.lantern", renderer: "lantern" };
  const { id } = await startTry({ ...wish, camera: "quay", frame: 3, ...change });
  return until("the node has answered", async () => (await viewTry(id)).answer);
};

test("each value says where it comes from, and the password of the database is not among them", async () => {
  const { values, roots, renderers } = await viewSettings();
  const sources = Object.fromEntries(values.map((v) => [v.name, v.source]));
  expect(sources).toMatchObject({ databaseUrl: "environment", renderers: "file", keep: "file" });
  expect(values.find((v) => v.name === "keep")!.value).toContain("logs 7 days");
  expect(values.find((v) => v.name === "databaseUrl")!.value).toMatch(/^mysql:\/\/\w+@127/);
  expect(roots[0]).toMatchObject({ name: "frames", folder: stage.root, projects: ["Test Film"] });
  expect(roots[0]!.freeBytes).toBeGreaterThan(0);
  expect(renderers.map((r) => [r.offer.name, r.version])).toEqual([
    ["stand-in", null],
    ["gone", null],
    ["lantern", "lantern 1.2"],
  ]);
});

test("a node says itself what it sees and where it can write; nothing of the question stays", async () => {
  const { nodes } = await viewHouseSeen();
  expect(nodes).toHaveLength(1);
  const [{ node, answer }] = nodes as [(typeof nodes)[number]];
  expect(node).toBe("quay-1");
  expect(answer!.roots).toMatchObject([
    { name: "frames", path: stage.root, isSame: true, cannotWrite: null },
  ]);
  expect(answer!.renderers).toEqual([
    { name: "stand-in", fault: null },
    { name: "lantern", fault: null },
    { name: "gone", fault: "gone: there is no program /nowhere/render" },
  ]);
  expect((await fs.readdir(stage.root)).filter((name) => name.startsWith(".plain-tally"))).toEqual([]);
});

test("a frame is rendered for the page alone: with its picture and its log, or with the reason", async () => {
  const good = await tried({});
  expect(good).toMatchObject({ fault: null });
  expect(good.lines).toContain("sample 4 of 4");
  expect(Buffer.from(good.jpeg!, "base64").subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
  expect(await tried({ camera: "bridge" })).toMatchObject({
    fault: expect.stringContaining('there is no camera "bridge"'),
    jpeg: null,
  });
  expect(await tried({ renderer: "stand-in", scene: "scenes/test.json", camera: "main" })).toMatchObject({
    fault: null,
  });
  // Nothing of it is in the project.
  expect(await fs.readdir(stage.projectFolder)).toEqual(expect.arrayContaining(["scenes"]));
  expect(await fs.readdir(path.join(stage.projectFolder, "scenes"))).not.toContain("frame.png");
  await expect(tried({ node: "nobody" })).rejects.toMatchObject({ code: "node-unknown" });
  await expect(tried({ renderer: "unheard-of" })).rejects.toMatchObject({ code: "renderer-unknown" });
});
