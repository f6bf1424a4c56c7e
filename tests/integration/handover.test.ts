/** Handovers as tasks: made by nodes, cancelled, taken over, following runs, kept through the loss of the database. */
import fs from "node:fs/promises";
import os from "node:os";
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
import { followRun, startFollowed } from "@/server/handover/follow";
import { moviePictures } from "@/server/handover/movie-pictures";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { reelOfSequence } from "@/server/handover/reel";
import { outlookOf } from "@/server/handover/outlook";
import { sendHandover } from "@/server/handover/send";
import { TallyError } from "@/server/errors";
import { viewHandovers } from "@/server/handover/views";
import { claimOneHandover } from "@/server/queue/handover-lease";
import { importEdit } from "@/server/actions/import-edit";
import { NodeHandovers } from "@/server/node/hand-over";
import { handoverById, type HandoverRow } from "@/server/store/handovers";
import { saveEncodes, saveNode } from "@/server/store/nodes";
import { requireSequence } from "@/server/store/shots";
import { PassThrough, type Writable } from "node:stream";
import { encode, give } from "@/server/handover/ffmpeg";
import { numbersIn, probe } from "../support/decoded";
import { canMount, mountDisk } from "../support/mounts";
import { frameFile, layNumbered, numberedPicture } from "../support/numbered-pictures";
import { PLAN } from "../support/plan";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { dumpTables } from "../support/tables";

const SIZE = { width: 160, height: 90 };
let stage: Stage;
/** Where the called program writes what it was told, a line a call. */
const told = path.join(os.tmpdir(), `plain-tally-handed-over-${process.pid}`);
beforeAll(async () => {
  const script = "require('fs').appendFileSync(process.argv[1], process.argv.slice(2).join(' | ') + '\\n')";
  stage = await openStage(undefined, {
    whenHandedOver: {
      program: process.execPath,
      arguments: ["-e", script, told, "{handover}", "{of}", "{state}", "{name}", "{path}", "{why}"],
    },
  });
});
afterAll(async () => {
  await stage.strike();
  await fs.rm(told, { force: true });
});
/** What was told of a handover, once it is so much. */
const toldOf = (id: number, calls: number): Promise<string[]> =>
  until(`handover ${id} is told of ${calls} times`, async () => {
    const lines = (await fs.readFile(told, "utf8").catch(() => "")).split("\n");
    const own = lines
      .filter((line) => line.startsWith(`${id} | `))
      .map((line) => line.slice(`${id} | `.length));
    return own.length >= calls && own;
  });

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

test("how large a movie will be is told by the last one of its kind", async () => {
  const { sequenceId } = await numbered(4);
  const of = await handedOverOf(sequenceId);
  expect((await outlookOf(of, MOVIE)).bytes).toBeNull();
  const made = await makeHere(await ask(sequenceId, MOVIE));
  expect((await outlookOf(of, MOVIE)).bytes).toBe(made.result!.bytes);
  const half = wishOf({ as: "movie", frames: "1-2", movie: { codec: "ffv1", container: "mkv" } });
  expect((await outlookOf(of, half)).bytes).toBe(made.result!.bytes / 2);
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
    // Whoever feeds it may hear of it first: by the pipe that breaks.
    const feed = async (into: Writable): Promise<void> => {
      for (;;) await give(into, new Uint8Array(1 << 20));
    };
    await expect(
      encode({
        ...{ args: [], feed, signal: new AbortController().signal },
        ...{ onFrame: () => undefined, onLine: () => undefined },
      }),
    ).rejects.toMatchObject({ code: "ffmpeg-failed" });
    await fs.writeFile(path.join(fake, "ffmpeg"), "#!/bin/sh\necho ' V..... gif'\n", { mode: 0o755 });
    const poor = await makeHere(await ask(sequenceId, MOVIE));
    expect(poor.fault?.code).toBe("ffmpeg-no-encoder");
  } finally {
    process.env.PATH = PATH;
  }
  expect(await handedOver()).toEqual(before);
});

describe("into a folder of somebody's own", () => {
  const into = (folder: string): Wish => wishOf({ as: "list", into: { root: null, folder } });

  test("it lies there under its next number, named by its root for every machine, and can be fetched and made again", async () => {
    const { sequenceId, code } = await numbered(2);
    const folder = path.join(stage.root, "deliveries", "day 3");
    await fs.mkdir(folder, { recursive: true });
    const made = await makeHere(await ask(sequenceId, into(folder)));
    expect(made.wish.into).toEqual({ root: "frames", folder: "deliveries/day 3" });
    expect(made.result!.path).toBe(path.join(folder, `${code}_v001_main_beauty_001.txt`));
    expect((await viewHandovers(sequenceId))[0]).toMatchObject({ path: made.result!.path, isHere: true });
    expect(await (await sendHandover(made.id)).text()).toBe(await fs.readFile(made.result!.path, "utf8"));
    const again = await makeHere((await makeAgain(made.id, null)).id);
    expect(again.result!.path).toBe(path.join(folder, `${code}_v001_main_beauty_002.txt`));
    expect((await fs.readdir(folder)).length).toBe(2);
  });

  test("one that is not there, lies below no root, or is among frames is refused; nothing is made up", async () => {
    const { sequenceId, folder } = await numbered(2);
    const refused = (place: string): Promise<unknown> =>
      ask(sequenceId, into(place)).then(
        () => "made",
        (error: unknown) => error instanceof TallyError && error.code,
      );
    expect(await refused(path.join(stage.root, "nowhere"))).toBe("folder-missing");
    expect(await refused("/usr")).toBe("folder-outside-roots");
    expect(await refused(folder)).toBe("handover-wrong");
    expect(await refused(stage.projectFolder)).toBe("handover-wrong");
    const away = path.join(stage.root, "away");
    await fs.mkdir(away);
    const id = await ask(sequenceId, into(away));
    await fs.rmdir(away);
    expect((await makeHere(id)).fault?.code).toBe("folder-missing");
    expect(await viewHandovers(sequenceId)).toMatchObject([{ isHere: false }]);
  });

  test("a name out of a record that somebody changed leads nowhere", async () => {
    const { sequenceId } = await numbered(2);
    const { id, name } = await makeHere(await ask(sequenceId, wishOf({ as: "list" })));
    const rename = (to: string): Promise<unknown> =>
      pool().query("UPDATE handover SET name = ? WHERE id = ?", [to, id]);
    await rename("../../../etc/passwd");
    await expect(sendHandover(id)).rejects.toMatchObject({ code: "path-outside-root" });
    expect(await viewHandovers(sequenceId)).toMatchObject([{ isHere: false }]);
    await rename(name!);
  });
});

test("a node without ffmpeg leaves movies to one that may have it; where nobody has, it says so", async () => {
  const { sequenceId } = await numbered(2);
  await pool().query("UPDATE node SET stopped_at = NOW(3)");
  const enter = (name: string): Promise<number> =>
    saveNode(pool(), { name, host: "far", processors: 2, pid: 1, session: crypto.randomUUID() });
  const [bare, other] = [await enter("bare-1"), await enter("other-1")];
  const look = (): Promise<void> =>
    new NodeHandovers({
      pool: pool(),
      leaseSeconds: 25,
      log: () => undefined,
      whileAway: (work) => work(),
      release: () => Promise.resolve(),
      onBusy: () => undefined,
      mustLetGo: () => false,
    }).makeAll(bare);
  const { PATH } = process.env;
  const id = await ask(sequenceId, { ...MOVIE, tells: true });
  const list = await ask(sequenceId, wishOf({ as: "list" }));
  try {
    process.env.PATH = stage.root;
    await look();
    expect([(await rowOf(id)).state, (await rowOf(list)).state]).toEqual(["waiting", "done"]);
    await saveEncodes(pool(), other, false);
    await look();
  } finally {
    process.env.PATH = PATH;
  }
  expect((await rowOf(id)).fault?.code).toBe("ffmpeg-missing");
  expect((await toldOf(id, 1))[0]).toContain("apt-get install ffmpeg");
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
    const { id } = await followRun(runId, wishOf({ as: "list", tells: true }), "Mara");
    const held = await until("it says what it waits for", async () => {
      const row = await rowOf(id);
      return row.held !== null && row;
    });
    expect([held.state, held.held]).toEqual(["awaiting", expect.stringContaining("no picture: 4")]);
    // A node that is killed between writing it down and telling it tells nothing: once at most.
    await toldOf(id, 1);
    await killAndWait(node);
    await stage.startNode("quay-4");
    await startRun({ sequenceId, scope: "version", phrase: "4", policy: "fill", nodes: null });
    const made = await inState(id, "done");
    expect((await fs.readFile(made.result!.path, "utf8")).trim().split("\n")).toHaveLength(4);
    expect(path.dirname(made.result!.path)).toBe(path.join(stage.projectFolder, "handovers"));
    expect((await fs.readdir(folder)).length).toBe(4);
    expect((await viewHandovers(sequenceId)).map((h) => h.id)).toEqual([id]);
    // Whoever asked to be told hears of each once: why it waits, and that it is there.
    expect(await toldOf(id, 2)).toEqual([
      `FOL | awaiting | ${made.name} |  | ${held.held}`,
      `FOL | done | ${made.name} | ${made.result!.path} | `,
    ]);
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

  test("a movie and a report may follow one run; with bad frames only where that was said", async () => {
    await stage.addShot("FO2", { frames: "1-2", width: 48, height: 28 });
    const ended = await stage.cli(
      ...["run", "FO2", "1", "--then", "archive,report", "--then-gaps", "hold", "--tell", "--wait", "--json"],
    );
    expect([ended.code, ended.stderr]).toEqual([0, ""]);
    const [rows] = await pool().query("SELECT id FROM handover WHERE run_id = ? ORDER BY id", [
      JSON.parse(ended.stdout).run,
    ]);
    const [movie, report] = (rows as { id: number }[]).map(({ id }) => id);
    const made = await inState(movie!, "done");
    expect(made.wish).toMatchObject({ as: "movie", gaps: "hold", isDeep: true, tells: true });
    expect((await probe(made.result!.path)).frames).toBe(2);
    expect((await inState(report!, "done")).wish.as).toBe("report");
    expect(await toldOf(movie!, 1)).toHaveLength(1);
  });

  test("a word that is none, or what cannot follow, is refused before anything begins", async () => {
    const { sequenceId } = await stage.addShot("FO3", { frames: "1-2" });
    const wrong = await stage.cli("run", "FO3", "--then", "film");
    expect([wrong.code, wrong.stderr]).toEqual([2, expect.stringContaining("--then must be")]);
    expect((await stage.cli("run", "FO3", "--tell")).code).toBe(2);
    const asked = { sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null } as const;
    const start = (following: Wish) => startFollowed(startRun, asked, [following], null);
    await expect(start(wishOf({ as: "list", frames: "nowhere" }))).rejects.toMatchObject({
      code: "phrase-wrong",
    });
    await expect(start(wishOf({ as: "movie", movie: { container: "webm" } }))).rejects.toMatchObject({
      code: "handover-wrong",
    });
    expect((await viewSequence(sequenceId)).runs).toEqual([]);
  });
});

test("the edit, from a shell: in its order, remembered, and in the news", async () => {
  const { code } = await numbered(6);
  const cuts = [
    "TITLE: CUT",
    "FCM: NON-DROP FRAME",
    "",
    `001  ${code}  V  C  00:00:00:04 00:00:00:06 01:00:00:00 01:00:00:02`,
    `002  ${code}  V  C  00:00:00:01 00:00:00:03 01:00:00:02 01:00:00:04`,
    "",
  ];
  await importEdit("test-film", "cut.edl", cuts.join("\n"));
  const out = path.join(stage.root, "edit.mkv");
  const ended = await stage.cli(
    ...["export", "test-film", "--edit", "--as", "movie", "--codec", "ffv1", "--out", out, "--json"],
  );
  expect([ended.code, ended.stderr]).toEqual([0, ""]);
  expect(await numbersIn(out)).toEqual([4, 5, 1, 2]);
  const news = await stage.cli("news", "--json");
  expect((JSON.parse(news.stdout) as NewsView).edits).toEqual([
    {
      project: "test-film",
      projectTitle: "Test Film",
      made: [`${out} handed over`],
      eyes: [],
      still: [],
    },
  ]);
  expect((await stage.cli("news")).stdout).toContain("test-film, the edit");
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
