/** Files that replaced others: accepted, or taken back with what was said of the ones before. */
import fs from "node:fs/promises";
import path from "node:path";
import { formatPhrase } from "@/core/frames/phrase";
import { flagFrames } from "@/server/actions/flags";
import { settleReplaced } from "@/server/actions/settle-replaced";
import { startRun } from "@/server/actions/start-run";
import { pool } from "@/server/db/pool";
import { asideFolderOf } from "@/server/folder/aside";
import { catchUp } from "@/server/folder/check";
import { acceptedFolder } from "@/server/files/layout";
import { openFindings } from "@/server/store/findings";
import { requireSequence } from "@/server/store/shots";
import { viewAsideFiles } from "@/server/views/aside-files";
import { loadSequence } from "@/server/views/tally";
import type { FrameHistoryView } from "@/contract/frame-history";
import { TEST_SCENE } from "../support/scene";
import { killAndWait, openStage, type Stage, until } from "../support/stage";

let stage: Stage;
let id: number;
let folder: string;
/** Contents of all files of the sequence, by name. */
const contents = async (of = folder): Promise<Record<string, string>> =>
  Object.fromEntries(
    await Promise.all(
      (await fs.readdir(of, { withFileTypes: true }))
        .filter((entry) => entry.isFile())
        .map(
          async ({ name }) => [name, (await fs.readFile(path.join(of, name))).toString("base64")] as const,
        ),
    ),
  );
const results = async (): Promise<Record<string, string>> => {
  const { tally } = await loadSequence(id);
  return { good: formatPhrase(tally.results.good), flagged: formatPhrase(tally.results.flagged) };
};
const render = async (policy: "fill" | "mend", good: string): Promise<void> => {
  await startRun({ sequenceId: id, phrase: "all", policy, scope: "sequence", nodes: null }, null);
  await until(`${good} are good`, async () => (await results()).good === good);
};
/** As they were before anybody flagged any. */
let before: Record<string, string>;
/** As they are after the patch. */
let after: Record<string, string>;

beforeAll(async () => {
  stage = await openStage();
  ({ sequenceId: id, folder } = await stage.addShot("RE1", { frames: "1-4" }));
  const node = await stage.startNode("quay-1");
  await render("fill", "1-4");
  before = await contents();
  await flagFrames(id, "2-4", "a crane jumps", "Mara");
  // The same scene makes the same picture, of which a flag stays: another one is brighter.
  const scene = path.join(stage.projectFolder, "scenes/test.json");
  await fs.writeFile(scene, JSON.stringify({ ...TEST_SCENE, exposure: 1.4 }));
  await startRun({ sequenceId: id, phrase: "2-4", policy: "mend", scope: "sequence", nodes: null }, null);
  await until("the flagged ones are made anew", async () => (await viewAsideFiles(id)).count === 3);
  await until("the run is over", async () => (await loadSequence(id)).tally.activities.rendering.count === 0);
  await killAndWait(node);
  after = await contents();
});
afterAll(() => stage.strike());

test("one is taken back: its file has the same bytes, its flag is open again, and the new one is kept", async () => {
  expect(Object.keys(after).filter((name) => after[name] !== before[name])).toHaveLength(3);
  expect(await settleReplaced(id, { decision: "undo", phrase: "3" })).toBe("3");
  const now = await contents();
  const [, , third] = Object.keys(before).sort();
  expect(now).toEqual({ ...after, [third!]: before[third!] });
  expect((await openFindings(pool(), id)).filter((f) => f.frame === 3)).toMatchObject([
    { source: "person", who: "Mara", text: "a crane jumps" },
  ]);
  expect((await results()).flagged).toContain("3");
  expect((await viewAsideFiles(id)).count).toBe(3);
  // Done again, the new one is back.
  await settleReplaced(id, { decision: "undo", phrase: "3" });
  expect(await contents()).toEqual(after);
});

test("a whole patch is taken back at once, and brought back", async () => {
  expect(await settleReplaced(id, { decision: "undo", phrase: "all" })).toBe("2-4");
  expect(await contents()).toEqual(before);
  expect(await settleReplaced(id, { decision: "undo", phrase: "1-99" })).toBe("2-4");
  expect(await contents()).toEqual(after);
});

test("the command line tells what was replaced, and settles it", async () => {
  const told = await stage.cli("replaced", "RE1", "--json");
  expect([told.code, JSON.parse(told.stdout)]).toEqual([
    0,
    { frames: "2-4", count: 3, accepted: 0, bytes: expect.any(Number) },
  ]);
  expect(JSON.parse((await stage.cli("replaced", "RE1", "2", "--undo", "--json")).stdout)).toEqual({
    frames: "2",
  });
  expect((await stage.cli("replaced", "RE1", "2", "--undo")).stdout).toBe("Put back: 2\n");
  expect(await contents()).toEqual(after);
  for (const wrong of [["--undo"], ["2", "--accept", "--undo"], ["1", "--undo"]])
    expect((await stage.cli("replaced", "RE1", ...wrong)).code).toBe(2);
});

test("a frame's history: who made it, who said what of it, what replaced what, the newest first", async () => {
  const { stdout, code } = await stage.cli("history", "RE1", "2", "--json");
  const { file, events } = JSON.parse(stdout) as FrameHistoryView;
  expect([code, file?.node]).toEqual([0, "quay-1"]);
  const kinds = events.map((event) => event.kind);
  expect(kinds.filter((kind) => kind === "attempt")).toHaveLength(2);
  expect(events.find((event) => event.kind === "found")).toMatchObject({
    who: "Mara",
    text: "a crane jumps",
  });
  expect(events.find((event) => event.kind === "replaced")).toMatchObject({ isAccepted: false });
  expect(events.map(({ at }) => at)).toEqual(events.map(({ at }) => at).sort((a, b) => b - a));
  expect((await stage.cli("history", "RE1", "2")).stdout).toMatch(/done on quay-1, run \d+/);
  expect((await stage.cli("history", "RE1", "two")).code).toBe(2);
});

test("accepted, a frame is no more offered; its file from before is kept further aside until its age", async () => {
  expect(await settleReplaced(id, { decision: "accept", phrase: "2,4" })).toBe("2,4");
  expect(await contents()).toEqual(after);
  const aside = await viewAsideFiles(id);
  expect([aside.count, aside.accepted, aside.names.length]).toEqual([3, 2, 1]);
  expect(await fs.readdir(acceptedFolder(asideFolderOf(await requireSequence(id))))).toHaveLength(2);
  await expect(settleReplaced(id, { decision: "undo", phrase: "1-2" })).rejects.toMatchObject({
    code: "replaced-none",
  });
  await expect(settleReplaced(id, { decision: "undo", phrase: "1-" })).rejects.toMatchObject({
    code: "phrase-wrong",
  });
});

test("a case is closed once nothing waits: its report shows before and now, and what was kept goes with it", async () => {
  const aside = async () => (await viewAsideFiles(id)).count;
  const open = await stage.cli("export", "RE1", "--as", "case");
  expect([open.code, open.stderr]).toEqual([
    2,
    expect.stringContaining("3 were made anew and are still to be"),
  ]);
  expect(await aside()).toBe(3);
  await settleReplaced(id, { decision: "accept", phrase: "3" });
  // Of a frame whose new file is damaged the one before is the only one.
  const [, second] = Object.keys(after).sort();
  const place = path.join(folder, second!);
  await fs.truncate(place, 40);
  await catchUp(await requireSequence(id));
  const first = await stage.cli("export", "RE1", "--as", "case");
  expect([first.code, await aside()]).toEqual([0, 1]);
  await fs.writeFile(place, Buffer.from(after[second!]!, "base64"));
  await catchUp(await requireSequence(id));
  const closed = await stage.cli("export", "RE1", "--as", "case", "--json");
  expect([closed.code, closed.stderr]).toEqual([0, ""]);
  const page = await fs.readFile((JSON.parse(closed.stdout) as { path: string }).path, "utf8");
  for (const part of ["What was made again", "a crane jumps", "Frame 2 before", "Frame 2 now", "by quay-1"])
    expect(page).toContain(part);
  expect(await aside()).toBe(0);
  expect(await contents()).toEqual(after);
});
