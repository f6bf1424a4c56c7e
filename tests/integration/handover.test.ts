/** Handovers as tasks: made by nodes, cancelled, taken over, following runs, kept through the loss of the database. */
import fs from "node:fs/promises";
import path from "node:path";
import { type Wish, USUAL_MOVIE } from "@/core/handover/wish";
import { wishOf } from "@/contract/handover";
import type { NewsView } from "@/contract/news";
import { openVersion } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { viewSequence } from "@/server/views/sequence";
import { closePool, pool } from "@/server/db/pool";
import { catchUp } from "@/server/folder/check";
import { attemptHandover, type HandoverHost } from "@/server/handover/attempt";
import { endHandover, handoverLog, makeAgain } from "@/server/handover/change";
import { createHandover } from "@/server/handover/create";
import { followRun } from "@/server/handover/follow";
import { moviePictures } from "@/server/handover/movie-pictures";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { reelOfSequence } from "@/server/handover/reel";
import { viewHandovers } from "@/server/handover/views";
import { claimOneHandover } from "@/server/queue/handover-lease";
import { handoverById, type HandoverRow } from "@/server/store/handovers";
import { requireSequence } from "@/server/store/shots";
import { PassThrough } from "node:stream";
import { numbersIn, probe } from "../support/decoded";
import { canMount, mountDisk } from "../support/mounts";
import { frameFile, layNumbered, numberedPicture } from "../support/numbered-pictures";
import { PLAN } from "../support/plan";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { dumpTables } from "../support/tables";

const SIZE = { width: 160, height: 90 };
let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

let count = 0;
/** A shot whose frames carry their numbers. */
async function numbered(
  frames: number,
): Promise<{ readonly sequenceId: number; readonly folder: string; readonly code: string }> {
  const code = `HV${++count}`;
  const shot = await stage.addShot(code, { frames: `1-${frames}`, ...SIZE });
  await layNumbered(
    shot.folder,
    code,
    Array.from({ length: frames }, (_, i) => i + 1),
    SIZE,
  );
  await catchUp(await requireSequence(shot.sequenceId));
  return { ...shot, code };
}

const ask = async (sequenceId: number, wish: Wish): Promise<number> =>
  (
    await createHandover({
      ...(await handedOverOf(sequenceId)),
      wish,
      who: "Mara",
      runId: null,
      outside: null,
    })
  ).id;
const MOVIE = wishOf({ as: "movie", movie: { codec: "ffv1", container: "mkv" } });
const rowOf = async (id: number): Promise<HandoverRow> => (await handoverById(pool(), id))!;
const inState = (id: number, state: HandoverRow["state"]): Promise<HandoverRow> =>
  until(`handover ${id} is ${state}`, async () => {
    const row = await rowOf(id);
    return row.state === state && row;
  });

/** Makes it here and now. */
async function makeHere(id: number, host: Partial<HandoverHost> = {}): Promise<HandoverRow> {
  const lease = (await claimOneHandover(pool(), id, null))!;
  await attemptHandover(
    {
      pool: pool(),
      leaseSeconds: 25,
      stop: new AbortController().signal,
      whileAway: (work) => work(),
      ...host,
    },
    lease,
  );
  return rowOf(id);
}
const handedOver = (): Promise<string[]> =>
  fs.readdir(path.join(stage.projectFolder, "handovers")).catch(() => []);

test("a node makes what was asked for; its log says how", async () => {
  const { sequenceId } = await numbered(6);
  const node = await stage.startNode("quay-1");
  const made = await inState(await ask(sequenceId, MOVIE), "done");
  expect([made.node, made.who]).toEqual(["quay-1", "Mara"]);
  expect(await numbersIn(made.result!.path)).toEqual([1, 2, 3, 4, 5, 6]);
  expect((await handoverLog(made.id)).text).toContain("read back: 6 frames");
  await killAndWait(node);
});

test("one whose maker is gone is taken over, once; its half movie goes", async () => {
  const { sequenceId } = await numbered(12);
  const id = await ask(sequenceId, MOVIE);
  // A maker that never comes back, with what it left.
  const lease = (await claimOneHandover(pool(), id, null, 1))!;
  const place = path.join(stage.projectFolder, "handovers", (await rowOf(id)).name!);
  await fs.writeFile(`${place}.part${id}-${lease.count}`, "half");
  const node = await stage.startNode("quay-2");
  const made = await inState(id, "done");
  expect((await probe(made.result!.path)).frames).toBe(12);
  expect((await handedOver()).filter((name) => name.includes(".part"))).toEqual([]);
  // The first maker wakes up: its lease is another's, and nothing of it is kept.
  const end = await attemptHandover(
    { pool: pool(), leaseSeconds: 1, stop: new AbortController().signal, whileAway: (work) => work() },
    lease,
  );
  expect(end).toBe("lost");
  expect((await rowOf(id)).result).toEqual(made.result);
  await killAndWait(node);
});

test("cancelled while it is made: nothing is kept, and who makes it hears of it", async () => {
  const { sequenceId } = await numbered(60);
  const id = await ask(sequenceId, {
    ...MOVIE,
    movie: { ...USUAL_MOVIE, codec: "av1", percent: 400 },
  } as Wish);
  const before = await handedOver();
  const lease = (await claimOneHandover(pool(), id, null))!;
  let isAsked = false;
  const end = await attemptHandover(
    {
      pool: pool(),
      leaseSeconds: 1,
      stop: new AbortController().signal,
      whileAway: (work) => work(),
      onProgress: () => {
        if (!isAsked) void endHandover(id);
        isAsked = true;
      },
    },
    lease,
  );
  expect([end, isAsked, (await rowOf(id)).state]).toEqual(["lost", true, "stopped"]);
  expect(await handedOver()).toEqual(before);
});

test("a maker that is asked to end gives it back", async () => {
  const { sequenceId } = await numbered(3);
  const id = await ask(sequenceId, MOVIE);
  const stop = new AbortController();
  stop.abort();
  expect((await makeHere(id, { stop: stop.signal })).state).toBe("waiting");
  expect((await makeHere(id)).state).toBe("done");
});

test("a picture that goes away, or is replaced, while it is handed over is told by name", async () => {
  const { sequenceId, folder, code } = await numbered(3);
  const reel = await reelOfSequence(sequenceId, "all", "stop");
  const pictures = await moviePictures(reel, USUAL_MOVIE, reel.rate, { beside: null, behind: null });
  const feed = (): Promise<void> => pictures.feed(reel.slots, new PassThrough().resume());
  await fs.rename(path.join(folder, frameFile(code, 2)), path.join(stage.root, "aside.png"));
  await expect(feed()).rejects.toMatchObject({ code: "handover-picture-gone" });
  await fs.writeFile(path.join(folder, frameFile(code, 2)), numberedPicture(9, SIZE.width, SIZE.height));
  await expect(feed()).rejects.toMatchObject({ code: "handover-picture-other" });
});

test("without ffmpeg, or with one that is killed, one sentence says so, and there is no half movie", async () => {
  const { sequenceId } = await numbered(3);
  const before = await handedOver();
  const { PATH } = process.env;
  const fake = await fs.mkdtemp(path.join(stage.root, "fake-"));
  try {
    process.env.PATH = fake;
    const missing = await makeHere(await ask(sequenceId, MOVIE));
    expect([missing.state, missing.fault?.code]).toEqual(["failed", "ffmpeg-missing"]);
    expect(missing.fault!.message).toContain("apt-get install ffmpeg");
    // One that lists its encoders as ever, and is killed in the middle.
    await fs.writeFile(
      path.join(fake, "ffmpeg"),
      `#!/bin/sh\ncase "$*" in *-encoders*) exec /usr/bin/ffmpeg "$@";; *) kill -9 $$;; esac\n`,
      { mode: 0o755 },
    );
    const killed = await makeHere(await ask(sequenceId, MOVIE));
    expect([killed.state, killed.fault?.code]).toEqual(["failed", "ffmpeg-failed"]);
    expect(killed.fault!.message).toContain("SIGKILL");
    await fs.writeFile(path.join(fake, "ffmpeg"), "#!/bin/sh\necho ' V..... gif'\n", { mode: 0o755 });
    const poor = await makeHere(await ask(sequenceId, MOVIE));
    expect(poor.fault?.code).toBe("ffmpeg-no-encoder");
  } finally {
    process.env.PATH = PATH;
  }
  expect(await handedOver()).toEqual(before);
});

(canMount ? test : test.skip)("a full disk is told as such, and nothing is left on it", async () => {
  const { sequenceId } = await numbered(40);
  const folder = path.join(stage.projectFolder, "handovers");
  const disk = mountDisk(folder, 40_000_000);
  try {
    disk.fill(8_000);
    const full = await makeHere(
      await ask(
        sequenceId,
        wishOf({ as: "movie", movie: { codec: "ffv1", container: "mkv", percent: 400 } }),
      ),
    );
    expect([full.state, full.fault?.code]).toEqual(["failed", "file-enospc"]);
    expect((await handedOver()).filter((name) => name.includes(".part"))).toEqual([]);
  } finally {
    disk.empty();
    disk.detach();
    disk.remove();
  }
});

test("frames that change under it put it out of date; made again it is new under the next name", async () => {
  const { sequenceId, folder, code } = await numbered(4);
  const first = await makeHere(await ask(sequenceId, MOVIE));
  const outOfDate = async (): Promise<unknown> =>
    (await viewHandovers(sequenceId)).map((h) => [h.id, h.isOutOfDate]);
  expect(await outOfDate()).toEqual([[first.id, false]]);
  await fs.writeFile(path.join(folder, frameFile(code, 3)), numberedPicture(77, SIZE.width, SIZE.height));
  await catchUp(await requireSequence(sequenceId));
  expect(await outOfDate()).toEqual([[first.id, true]]);
  const { id } = await makeAgain(first.id, null);
  const second = await makeHere(id);
  expect(await numbersIn(second.result!.path)).toEqual([1, 2, 77, 4]);
  expect(second.name).toMatch(/_002\.mkv$/);
  expect(await outOfDate()).toEqual([
    [second.id, false],
    [first.id, true],
  ]);
});

test("a damaged file is found by the deep check, becomes a finding, and nothing is handed over", async () => {
  const { sequenceId, folder, code } = await numbered(3);
  const file = path.join(folder, frameFile(code, 2));
  const id = await ask(sequenceId, { ...wishOf({ as: "list" }), isDeep: true });
  // Cut short after it was looked at, with the times of before: only its pixels tell.
  const { atime, mtime } = await fs.stat(file);
  const bytes = await fs.readFile(file);
  bytes.fill(0, bytes.length - 40, bytes.length - 20);
  await fs.writeFile(file, bytes);
  await fs.utimes(file, atime, mtime);
  const stopped = await makeHere(id);
  expect([stopped.state, stopped.fault?.code]).toEqual(["failed", "handover-damaged"]);
  const ended = await stage.cli("export", code, "--as", "list");
  expect([ended.code, ended.stderr]).toEqual([1, expect.stringContaining("flagged: 2")]);
});

describe("what follows a run", () => {
  test("waits for patches, says why, begins by itself, and each once; also a restart of its node changes nothing", async () => {
    const { sequenceId, folder } = await stage.addShot("FOL", { frames: "1-4", width: 48, height: 28 });
    const node = await stage.startNode("quay-3");
    const { runId } = await startRun({
      ...{ sequenceId, scope: "version", phrase: "1-3", policy: "fill", nodes: null },
    });
    const { id } = await followRun(runId, wishOf({ as: "list" }), "Mara");
    const held = await until("it says what it waits for", async () => {
      const row = await rowOf(id);
      return row.held !== null && row;
    });
    expect([held.state, held.held]).toEqual(["awaiting", expect.stringContaining("no picture: 4")]);
    await killAndWait(node);
    await stage.startNode("quay-4");
    await startRun({ sequenceId, scope: "version", phrase: "4", policy: "fill", nodes: null });
    const made = await inState(id, "done");
    expect((await fs.readFile(made.result!.path, "utf8")).trim().split("\n")).toHaveLength(4);
    expect(path.dirname(made.result!.path)).toBe(path.join(stage.projectFolder, "handovers"));
    expect((await fs.readdir(folder)).length).toBe(4);
    expect((await viewHandovers(sequenceId)).map((h) => h.id)).toEqual([id]);
  });

  test.each(["v001", "rough001"])("a run of the command line carries one: %s", async (version) => {
    const code = `FO${version.length}`;
    await stage.addShot(code, { frames: "1-2", width: 48, height: 28 });
    if (version === "rough001") await openVersion(code, { ...PLAN, frames: "1-2" }, "rough");
    const ended = await stage.cli(
      ...["run", code, "--version", version, "--then", "report", "--wait", "--json"],
    );
    expect([ended.code, ended.stderr]).toEqual([0, ""]);
    const [rows] = await pool().query("SELECT id FROM handover WHERE run_id = ?", [
      JSON.parse(ended.stdout).run,
    ]);
    const made = await inState((rows as { id: number }[])[0]!.id, "done");
    expect(made.name).toBe(`${code}_${version}_main_beauty_report_001.html`);
    expect(await fs.readFile(made.result!.path, "utf8")).toContain("All 2 good");
    if (version === "rough001") expect(made.result!.warnings.join(" ")).toContain("rough version");
  });

  test("a word that is none is refused before anything begins", async () => {
    const { sequenceId } = await stage.addShot("FO3", { frames: "1-2" });
    const wrong = await stage.cli("run", "FO3", "--then", "film");
    expect([wrong.code, wrong.stderr]).toEqual([2, expect.stringContaining("--then must be")]);
    expect((await viewSequence(sequenceId)).runs).toEqual([]);
  });
});

test("a wish that nobody can read, out of a record that somebody changed, blocks nobody", async () => {
  const { sequenceId } = await numbered(2);
  const odd = await ask(sequenceId, wishOf({ as: "list" }));
  await pool().query("UPDATE handover SET wish = ? WHERE id = ?", [
    '{"as":"movie","movie":{"codec":7}}',
    odd,
  ]);
  const fine = await ask(sequenceId, wishOf({ as: "list" }));
  await inState(fine, "done");
  await until("it has failed", async () => {
    const [rows] = await pool().query("SELECT state FROM handover WHERE id = ?", [odd]);
    return (rows as { state: string }[])[0]!.state === "failed";
  });
  expect((await viewHandovers(sequenceId)).map((h) => h.id)).toEqual([fine]);
});

test("this morning: what was made and handed over, what was not and why, since any moment", async () => {
  const told = await stage.cli("news", "--json");
  const { shots } = JSON.parse(told.stdout) as NewsView;
  expect(shots.find((s) => s.shot === "FOL")).toMatchObject({
    version: "v001",
    sentence: "All 4 good.",
    made: ["4 frames (1-4) made", "FOL_v001_main_beauty_001.txt handed over"],
    step: { step: "hand-over" },
  });
  expect(shots.flatMap((s) => s.eyes).join(" ")).toContain("apt-get install ffmpeg");
  expect(told.code).toBe(1);
  const quiet = await stage.cli("news", "--since", new Date(Date.now() + 60_000).toISOString(), "--json");
  expect((JSON.parse(quiet.stdout) as NewsView).shots.flatMap((s) => [...s.made, ...s.eyes])).toEqual([]);
  expect((await stage.cli("news", "--since", "yesterday")).code).toBe(2);
});

test("handovers, and what was decided about them, survive the loss of the database", async () => {
  await stage.cli("status");
  const before = (await dumpTables()).get("handover")!;
  expect(before.length).toBeGreaterThan(5);
  await stage.loseDatabase();
  const ended = await stage.cli("rebuild", stage.projectFolder);
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  expect((await dumpTables()).get("handover")).toEqual(before);
  await closePool();
});
