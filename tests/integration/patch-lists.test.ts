/** Patch over several shots, nodes that are set aside by hand, and how files came to be. */
import { formatPhrase } from "@/core/frames/phrase";
import { unpackSet } from "@/core/tally/packed";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { pool } from "@/server/db/pool";
import { write } from "@/server/db/rows";
import { openAsides } from "@/server/store/asides";
import { viewCircumstances } from "@/server/views/circumstances";
import { viewPatch } from "@/server/views/patch";
import { loadSequence } from "@/server/views/tally";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
let first: number;
let second: number;
const good = async (id: number): Promise<string> => formatPhrase((await loadSequence(id)).tally.results.good);

beforeAll(async () => {
  stage = await openStage();
  ({ sequenceId: first } = await stage.addShot("PA1", { frames: "1-6" }));
  ({ sequenceId: second } = await stage.addShot("PA2", { frames: "1-3" }));
  await stage.startNode("quay-1");
  await startRun({ sequenceId: first, phrase: "all", policy: "fill", scope: "version", nodes: null }, null);
  await until("1-6 are good", async () => (await good(first)) === "1-6");
  await flagFrames(first, "2,3,5", "the lamp is off", "Mara");
});
afterAll(() => stage.strike());

interface Told {
  readonly shot: string;
  readonly run: number | null;
  readonly ranges: readonly {
    readonly result: string;
    readonly why: string | null;
    readonly frames: string;
  }[];
}

test("what is to be patched of all shots of a project, in ranges that say why", async () => {
  const ended = await stage.cli("patch", "test-film", "--json");
  const told = JSON.parse(ended.stdout) as readonly Told[];
  expect(ended.code).toBe(1);
  expect(told.map(({ shot, run }) => [shot, run])).toEqual([
    ["test-film/PA1", null],
    ["test-film/PA2", null],
  ]);
  expect(told[0]!.ranges).toMatchObject([{ result: "flagged", why: "the lamp is off", frames: "2-3,5" }]);
  expect(told[1]!.ranges).toMatchObject([{ result: "missing", why: null, frames: "1-3" }]);
  expect((await stage.cli("patch", "PA2")).stdout).toMatch(/main beauty {2}1-3 {2}missing/);
  expect((await stage.cli("patch", "nowhere")).code).toBe(2);
});

test("frames are flagged from the command line, and the flags taken back", async () => {
  const flagged = async (): Promise<string> =>
    formatPhrase((await loadSequence(first)).tally.results.flagged);
  const ended = await stage.cli("flag", "PA1", "5-6,9", "--why", "too dark", "--json");
  expect([ended.code, JSON.parse(ended.stdout), await flagged()]).toEqual([0, { flagged: "5-6" }, "2-3,5-6"]);
  expect((await stage.cli("flag", "PA1", "6", "--clear", "--json")).stdout).toContain('"cleared":1');
  expect(await flagged()).toBe("2-3,5");
  for (const wrong of [[], ["--why", " "], ["--why", "x", "--clear"]])
    expect((await stage.cli("flag", "PA1", "1", ...wrong)).code).toBe(2);
  expect((await stage.cli("flag", "PA1", "77", "--why", "not there")).code).not.toBe(0);
  expect(await flagged()).toBe("2-3,5");
});

test("the node that made all that is wrong is left out while another is awake, and not where it is alone", async () => {
  // Another machine made the good ones.
  await write(pool(), "UPDATE frame_file SET node = 'quay-2' WHERE sequence_id = ? AND frame IN (1, 4, 6)", [
    first,
  ]);
  expect((await viewPatch("test-film/PA1")).leftOut).toEqual([]);
  const other = await stage.startNode("quay-2");
  await until("quay-2 is awake", async () => (await viewPatch("test-film/PA1")).nodes !== null);
  expect(await viewPatch("test-film/PA1")).toMatchObject({
    leftOut: [{ node: "quay-1", bad: 3, of: 3 }],
    nodes: ["quay-2"],
  });
  other.kill("SIGTERM");
  await until("quay-2 has gone", async () => (await viewPatch("test-film/PA1")).nodes === null);
});

test("how files came to be: the hours in which they were written cover every one of them once", async () => {
  const { hours, calls, warnings } = await viewCircumstances(first);
  const all = hours.flatMap(({ frames }) => [...unpackSet(frames).runs]);
  expect(all.reduce((sum, { first: from, last, step }) => sum + (last - from) / step + 1, 0)).toBe(6);
  for (const { node, frames } of calls) expect([node, unpackSet(frames).count > 1]).toEqual(["quay-1", true]);
  expect(warnings).toEqual([]);
});

test("a node that is set aside by hand gets no frames before it is let in; the reason is kept", async () => {
  expect((await stage.cli("aside", "quay-1", "--why", "its lamp is another")).code).toBe(0);
  expect(await openAsides(pool())).toMatchObject([
    { node: "quay-1", runId: null, reason: { code: "by-hand", why: "its lamp is another" } },
  ]);
  const started = await stage.cli("patch", "PA2", "--start", "--json");
  expect((JSON.parse(started.stdout) as readonly Told[])[0]!.run).toEqual(expect.any(Number));
  const { tally } = await loadSequence(second);
  expect([formatPhrase(tally.activities.waiting), tally.activities.rendering.count]).toEqual(["1-3", 0]);
  for (const wrong of [["quay-1"], ["--let-in"], ["mole-9", "--why", "x"], ["quay-2", "--let-in"]])
    expect((await stage.cli("aside", ...wrong)).code).toBe(2);
  expect((await stage.cli("aside", "quay-1", "--let-in")).stdout).toBe("No node is set aside.\n");
  await until("it renders again", async () => (await good(second)) === "1-3");
  expect((await viewPatch("test-film/PA2")).sequences).toEqual([]);
});
