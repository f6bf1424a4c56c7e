/** Odd ones of a shot: measured by nodes, judged by people, and judged anew when a file is another. */
import fs from "node:fs/promises";
import path from "node:path";
import { wishOf } from "@/contract/handover";
import type { OddView } from "@/contract/odd-view";
import { USUAL_THRESHOLDS } from "@/core/odd/odd";
import { clearFlags } from "@/server/actions/flags";
import { judgeOdd, setThresholds } from "@/server/actions/judge-odd";
import { pool } from "@/server/db/pool";
import { write } from "@/server/db/rows";
import { catchUp, checkSequence } from "@/server/folder/check";
import { outlookOf } from "@/server/handover/outlook";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { measureSome } from "@/server/measuring/measure-files";
import { openFindings } from "@/server/store/findings";
import { requireSequence } from "@/server/store/shots";
import { viewMeasures, viewOdd } from "@/server/views/odd";
import { loadSequence } from "@/server/views/tally";
import { formatPhrase } from "@/core/frames/phrase";
import { unpackSet } from "@/core/tally/packed";
import { frameFile } from "../support/numbered-pictures";
import { repackedPng } from "../support/repacked-png";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { layWandering, WANDERING_SIZE, wanderingPicture } from "../support/wandering-pictures";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

let count = 0;
const FRAMES = Array.from({ length: 24 }, (_, i) => i + 1);
/** A shot with a pop at 7, a patch at 13 and a frozen frame at 20, looked at and not measured. */
async function messy(): Promise<{
  readonly id: number;
  readonly file: (frame: number) => string;
  readonly look: () => Promise<unknown>;
}> {
  const code = `OD${++count}`;
  const { sequenceId: id, folder } = await stage.addShot(code, { frames: "1-24", ...WANDERING_SIZE });
  await layWandering(folder, FRAMES, (frame) => frameFile(code, frame), {
    7: { gain: 1.3 },
    13: { isPatched: true },
    20: 19,
  });
  const look = async (): Promise<unknown> => catchUp(await requireSequence(id));
  await look();
  return { id, file: (frame) => path.join(folder, frameFile(code, frame)), look };
}
const measureAll = async (id: number): Promise<void> => {
  while ((await measureSome(pool(), id)) > 0);
};
const told = (view: OddView): string[] =>
  view.odd.map(({ frame, code, state }) => `${frame} ${code} ${state}`);
const flagged = async (id: number): Promise<string> =>
  formatPhrase((await loadSequence(id)).tally.results.flagged);

test("nodes measure what has come, and a page says what is odd, where, and how far measuring is", async () => {
  const { id } = await messy();
  expect(await viewOdd(id)).toMatchObject({ odd: [], measured: 0, waiting: 24, nodesAwake: 0 });
  const node = await stage.startNode("quay-1");
  await until("all are measured", async () => (await viewOdd(id)).waiting === 0);
  const view = await viewOdd(id);
  expect(view).toMatchObject({ measured: 24, unshown: 0, areUsual: true, nodesAwake: 1 });
  expect(told(view)).toEqual(expect.arrayContaining(["7 pop open", "13 flicker open", "20 frozen open"]));
  expect(view.odd.map(({ frame }) => frame).filter((frame) => ![7, 13, 20].includes(frame))).toEqual([]);
  const columns = await viewMeasures(id);
  expect([formatPhrase(unpackSet(columns.frames)), columns.change[0], columns.black]).toEqual([
    "1-24",
    null,
    Array(24).fill(0),
  ]);
  // The frame that froze does not differ from the one before.
  expect(columns.change.indexOf(0)).toBe(19);
  expect(view.odd.find(({ code }) => code === "flicker")!.place).toEqual({
    left: 32 / 128,
    top: 16 / 72,
    width: 32 / 128,
    height: 16 / 72,
  });
  // Odd is not bad: nobody has judged it, and whoever hands it over is told.
  expect(await flagged(id)).toBe("");
  expect((await outlookOf(await handedOverOf(id), wishOf({ as: "csv" }))).warnings).toEqual([
    "Odd among its neighbours, and not judged yet: 7,13,20 (see Check).",
  ]);
  await killAndWait(node);
});

test("what only unpacking tells is damage: a node finds it, a check of its structure does not take it back, a whole file does", async () => {
  const { id, file, look } = await messy();
  const whole = await fs.readFile(file(5));
  await fs.writeFile(
    file(5),
    repackedPng(whole, (rows) => rows.subarray(0, rows.length - 300)),
  );
  await look();
  expect(await flagged(id)).toBe("");
  await measureAll(id);
  const damage = [{ frame: 5, source: "check", code: "corrupt" }];
  expect(await openFindings(pool(), id)).toMatchObject(damage);
  expect([await flagged(id), (await viewOdd(id)).measured]).toEqual(["5", 23]);
  await checkSequence(await requireSequence(id));
  expect(await openFindings(pool(), id)).toMatchObject(damage);
  await fs.writeFile(file(5), whole);
  await look();
  await measureAll(id);
  expect([await flagged(id), (await viewOdd(id)).measured]).toEqual(["", 24]);
});

test("accepted, it is flagged with sentence and place; dismissed with a reason, it is none; both can be taken back", async () => {
  const { id } = await messy();
  await measureAll(id);
  const [pop, patch] = [
    { frame: 7, code: "pop" },
    { frame: 13, code: "flicker" },
  ] as const;
  expect(await judgeOdd(id, { judgement: "accept", of: [patch] }, "Mara")).toBe(1);
  expect(await judgeOdd(id, { judgement: "dismiss", of: [pop], why: " lightning " }, "Ines")).toBe(1);
  expect(await flagged(id)).toBe("13");
  expect(await openFindings(pool(), id)).toMatchObject([
    { frame: 13, source: "odd", code: "flicker", who: "Mara", placeLeft: 0.25 },
  ]);
  const lines = (await viewOdd(id)).odd;
  expect(lines.find(({ code }) => code === "pop")).toMatchObject({
    state: "dismissed",
    who: "Ines",
    why: "lightning",
  });
  expect(lines.find(({ code }) => code === "flicker")).toMatchObject({ state: "accepted", who: "Mara" });

  // Somebody finds it good after all, where flags are cleared.
  await clearFlags(id, "13", "Ines");
  expect((await viewOdd(id)).odd.find(({ code }) => code === "flicker")).toMatchObject({
    state: "dismissed",
  });
  await judgeOdd(id, { judgement: "undo", of: [pop, patch] }, "Mara");
  expect(told(await viewOdd(id))).toEqual(expect.arrayContaining(["7 pop open", "13 flicker open"]));
  expect(await flagged(id)).toBe("");
});

test("what was said counts for the file that was judged: a new one is judged anew, and says that it is odd again", async () => {
  const { id, file, look } = await messy();
  await measureAll(id);
  await judgeOdd(id, { judgement: "accept", of: [{ frame: 13, code: "flicker" }] }, "Mara");
  await judgeOdd(id, { judgement: "dismiss", of: [{ frame: 7, code: "pop" }] }, "Mara");
  // Both are made anew, and one of them has the same fault.
  await fs.writeFile(file(13), wanderingPicture(13, { isPatched: true, gain: 1.001 }));
  await fs.writeFile(file(7), wanderingPicture(7, { gain: 1.31 }));
  await look();
  await write(
    pool(),
    "UPDATE finding SET state = 'fixed', closed_at = NOW(3) WHERE sequence_id = ? AND state = 'open'",
    [id],
  );
  expect((await viewOdd(id)).waiting).toBe(2);
  await measureAll(id);
  const { odd } = await viewOdd(id);
  expect(odd.find(({ code }) => code === "flicker")).toMatchObject({
    frame: 13,
    state: "open",
    isAgain: true,
  });
  expect(odd.find(({ code }) => code === "pop")).toMatchObject({ frame: 7, state: "open", isAgain: false });
  // Mended, it is odd no more, and cannot be judged.
  await fs.writeFile(file(7), wanderingPicture(7));
  await look();
  await measureAll(id);
  await expect(
    judgeOdd(id, { judgement: "accept", of: [{ frame: 7, code: "pop" }] }, null),
  ).rejects.toMatchObject({
    code: "odd-gone",
  });
});

test("a threshold changes what is odd at once, for all of the shot, and no file is opened", async () => {
  const { id, file } = await messy();
  await measureAll(id);
  for (const frame of FRAMES) await fs.rm(file(frame));
  await setThresholds(id, { ...USUAL_THRESHOLDS, change: 1000, leastChange: 1, deviations: 1000 });
  expect(told(await viewOdd(id))).toEqual(["20 frozen open"]);
  expect((await viewOdd(id)).areUsual).toBe(false);
  await setThresholds(id, null);
  expect(told(await viewOdd(id))).toEqual(expect.arrayContaining(["7 pop open", "13 flicker open"]));
});

test("a marker that is named for a flash says that it is meant", async () => {
  const { id } = await messy();
  await measureAll(id);
  await write(
    pool(),
    `UPDATE shot SET markers = ? WHERE id = (
      SELECT v.shot_id FROM version v JOIN sequence q ON q.version_id = v.id WHERE q.id = ?)`,
    [JSON.stringify([{ name: "flash of the lighthouse", first: 7, end: 8 }]), id],
  );
  expect((await viewOdd(id)).odd.map(({ frame }) => frame)).not.toContain(7);
});

test("a picture that goes, changes or cannot be measured holds nothing up; a lost lease is taken over", async () => {
  const { id, file, look } = await messy();
  await fs.rm(file(3));
  await fs.writeFile(file(4), "no picture any more");
  // Somebody had them all, and is gone.
  await write(
    pool(),
    "UPDATE measure_task SET token = 'of a node that is gone', lease_until = NOW(6) - INTERVAL 1 SECOND WHERE sequence_id = ?",
    [id],
  );
  await measureAll(id);
  expect(await viewOdd(id)).toMatchObject({ measured: 22, waiting: 0 });
  await fs.writeFile(file(4), wanderingPicture(4));
  await look();
  expect(await viewOdd(id)).toMatchObject({ measured: 22, waiting: 1 });
  await measureAll(id);
  expect(await viewOdd(id)).toMatchObject({ measured: 23, waiting: 0 });
});

test("the command line measures, tells and judges the same", async () => {
  const { id } = await messy();
  const code = `OD${count}`;
  const json = async (...args: string[]): Promise<{ code: number; value: Record<string, unknown> }> => {
    const ended = await stage.cli("odd", code, ...args, "--json");
    return { code: ended.code, value: JSON.parse(ended.stdout) as Record<string, unknown> };
  };
  expect(await json()).toMatchObject({ code: 0, value: { measured: 0, waiting: 24, odd: [] } });
  const measured = await json("--measure");
  expect(measured).toMatchObject({ code: 1, value: { measured: 24, waiting: 0 } });
  expect((await json("13")).value.odd).toMatchObject([{ frame: 13, code: "flicker", state: "open" }]);
  expect((await json("7,20", "--dismiss", "lightning")).code).toBe(0);
  expect((await json("13", "--accept")).value).toEqual({ judged: 1 });
  expect(await flagged(id)).toBe("13");
  // All is judged.
  const told = await stage.cli("odd", code);
  expect([told.code, told.stdout]).toEqual([0, expect.stringMatching(/^7 {2}dismissed .*\(lightning\)$/m)]);
  for (const wrong of [
    ["--accept"],
    ["7", "--accept", "--undo"],
    ["7", "--dismiss", " "],
    ["1-", "--accept"],
  ])
    expect((await stage.cli("odd", code, ...wrong)).code).toBe(2);
  expect((await stage.cli("odd", code, "2", "--accept")).stderr).toContain("odd any more");
});
