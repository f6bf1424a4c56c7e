/** Programs that render and behave badly: they talk without end, leave others behind, or outlive their node. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { logOfRun } from "@/server/store/attempt-lines";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { isGone } from "../support/processes";
import { killAndWait, openStage, type Stage, until } from "../support/stage";

/** Where the programs write which process they started. */
let notes: string;
let stage: Stage;

const DRAWS = `;require("node:child_process").execFileSync("convert", ["-size", process.argv[3] + "x" + process.argv[4], "xc:navy", "PNG24:" + process.argv[2]])`;
/** Does what it is told, then draws the picture. */
async function doing(name: string, script: string, draws = true): Promise<RendererDeclaration> {
  const file = path.join(notes, `${name}.cjs`);
  await fs.writeFile(file, `${script}${draws ? DRAWS : ""}`);
  return { program: process.execPath, arguments: [file, "{output}", "{width}", "{height}"] };
}
/** Starts a process that leaves its group and session, as a daemon does, and notes its number. */
const leaving = (): string =>
  `const c = require("node:child_process").spawn("sleep", ["600"], { detached: true, stdio: "ignore" }); c.unref();
   require("node:fs").writeFileSync(${JSON.stringify(path.join(notes, "left"))}, String(c.pid))`;

/** Leaves a file in the folder of the call. */
const writing = (name: string): string =>
  `require("node:fs").writeFileSync(${JSON.stringify(name)}, "of the call")`;

beforeEach(async () => {
  notes = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-programs-"));
  stage = await openStage(undefined, {
    renderers: {
      flood: await doing(
        "flood",
        `const w = (t) => require("node:fs").writeSync(1, t);
         for (let i = 0; i < 300; i++) w("x".repeat(100000));
         for (let i = 0; i < 20000; i++) w("\\nline " + i)`,
      ),
      tells: await doing(
        "tells",
        `console.log("environment: " + JSON.stringify(Object.entries(process.env).filter(([name, value]) => /DATABASE|mysql/.test(name + value))))`,
      ),
      leaves: await doing("leaves", leaving()),
      stays: {
        ...(await doing(
          "stays",
          `${writing("stays.stats")};${leaving()};setInterval(() => {}, 1000)`,
          false,
        )),
        keeps: ["*.stats"],
      },
      keeps: {
        ...(await doing("keeps", ["caches.stats", "notes.txt", "scratch.tmp"].map(writing).join(";"))),
        keeps: ["*.stats", "notes.txt"],
      },
    },
  });
});
afterEach(async () => {
  await stage.strike();
  await closePool();
  await fs.rm(notes, { recursive: true, force: true });
});

const begin = async (code: string, renderer: string) => {
  const { sequenceId, folder } = await stage.addShot(code, { renderer, frames: "1" });
  const { runId } = await startRun({
    sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: null,
    scope: "version",
  });
  return { sequenceId, folder, runId };
};
const isDone = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
const good = async (sequenceId: number): Promise<number> =>
  countsOf((await loadSequence(sequenceId)).tally).results.good;
const left = async (): Promise<number> =>
  Number(await fs.readFile(path.join(notes, "left"), "utf8").catch(() => ""));
const callFolders = async (): Promise<readonly string[]> =>
  (await fs.readdir(os.tmpdir())).filter((name) => name.startsWith("plain-tally-call-"));

/** Files beside the frames that a program left, with the folder of their call. */
const kept = async (folder: string): Promise<string[]> => {
  const place = path.join(folder, "../../.tally/kept/main");
  const files = await fs.readdir(place, { recursive: true, withFileTypes: true });
  return files
    .filter((f) => f.isFile())
    .map((f) => path.relative(place, path.join(f.parentPath, f.name)))
    .sort();
};

test("thirty million characters without a line's end, and twenty thousand lines, cost neither the frame nor the node", async () => {
  const node = await stage.startNode("quay-1");
  const { sequenceId, folder, runId } = await begin("PR1", "flood");
  await isDone(runId);
  expect(await good(sequenceId)).toBe(1);
  expect(node.exitCode).toBeNull();
  const lines = (await logOfRun(pool(), runId, 10_000)).reverse().map((line) => line.text);
  expect(lines.length).toBeLessThan(1_000);
  expect(lines.find((text) => text.startsWith("xxx"))).toMatch(/^x+ … 29,999,\d{3} characters more$/);
  expect(lines.some((text) => /^… [\d,]+ lines more/.test(text))).toBe(true);
  // The end is what one looks for when something went wrong.
  expect(lines).toContain("line 19999");
  // The file beside the frames has them all, and stays of a size.
  const log = path.join(folder, "../../.tally/log");
  const texts = await Promise.all(
    (await fs.readdir(log)).map((name) => fs.readFile(path.join(log, name), "utf8")),
  );
  expect(texts.join("")).toContain("line 10000");
  expect(Math.max(...texts.map((text) => text.length))).toBeLessThan(20_000_000);
});

test("its environment holds no way to the database", async () => {
  await stage.startNode("quay-1");
  const { runId } = await begin("PR2", "tells");
  await isDone(runId);
  const said = (await logOfRun(pool(), runId, 100)).map((line) => line.text).join("\n");
  expect(said).toContain("environment: []");
  expect(said).not.toContain("mysql://");
  expect(said).not.toContain(new URL(stage.env.PLAIN_TALLY_DATABASE_URL!).password);
});

test("what a declaration keeps of a call lies beside the frames, and nothing else of it", async () => {
  await stage.startNode("quay-1");
  const before = await callFolders();
  const { folder, runId } = await begin("PR5", "keeps");
  await isDone(runId);
  await until("the folder of the call is gone", async () =>
    (await callFolders()).every((name) => before.includes(name)),
  );
  expect(await kept(folder)).toEqual(["000001/caches.stats", "000001/notes.txt"]);
});

test("with its end all that it started ends, also what left its group", async () => {
  await stage.startNode("quay-1");
  const { runId } = await begin("PR3", "leaves");
  await isDone(runId);
  const pid = await left();
  expect(pid).toBeGreaterThan(0);
  await until("what it left behind has ended", () => isGone(pid));
});

test("what outlives a node that was killed is ended by the next one, and its folder removed", async () => {
  const before = await callFolders();
  const node = await stage.startNode("quay-1");
  const { folder } = await begin("PR4", "stays");
  const pid = await until("the program has started another", async () => (await left()) || null);
  await killAndWait(node);
  expect((await callFolders()).length).toBeGreaterThan(before.length);
  await stage.startNode("quay-2");
  await until("what it left behind has ended", () => isGone(pid));
  await until(
    "its folder is gone",
    async () => (await callFolders()).filter((name) => !before.includes(name)).length <= 1,
  );
  // But for what the declaration keeps, which the later node knows from the folder alone.
  expect(await kept(folder)).toEqual(["000001/stays.stats"]);
});
