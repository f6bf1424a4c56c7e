/**
 * What the pages get: the same counts everywhere, pictures at addresses that carry their content, and news of
 * every change.
 */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { HALF_PICTURE_TYPE, unpackHalfPicture } from "@/contract/viewer-picture";
import { fromHalf } from "@/core/image/half";
import { dataFolder } from "@/server/configuration";
import { formatPhrase } from "@/core/frames/phrase";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { unpackSet, unpackTally } from "@/core/tally/packed";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool, transact } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { live } from "@/server/http/live";
import { formOf, pictureOf } from "@/server/http/picture";
import { viewScene, viewShot } from "@/server/views/shot";
import { write } from "@/server/db/rows";
import { finish } from "@/server/queue/lease";
import { saveNode } from "@/server/store/nodes";
import { appendEvent } from "@/server/store/events";
import { sequenceById } from "@/server/store/shots";
import { catchUp } from "@/server/folder/check";
import { openVersion } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { NOTHING } from "../support/measures";
import { PLAN } from "../support/plan";
import { openStage, type Stage, until } from "../support/stage";
import { viewPace } from "@/server/views/runs";
import { viewLog } from "@/server/views/logs";
import { viewShots } from "@/server/views/shots";
import { viewSequence } from "@/server/views/sequence";
import { claim } from "@/server/queue/claim";
import { stopRun } from "@/server/actions/stop-run";
import type { LiveMessage } from "@/contract/live";

const NEWEST = { version: null, camera: null, pass: null };
let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;

const picture = (shade: number): Uint8Array =>
  writePng(
    rgb8(PLAN.width, PLAN.height, new Uint8Array(PLAN.width * PLAN.height * 3).fill(shade)),
    {},
    imageTools,
  );
const file = (frame: number): string => path.join(shot.folder, `V1.${String(frame).padStart(4, "0")}.png`);
const look = async (): Promise<unknown> => catchUp((await sequenceById(pool(), shot.sequenceId))!);

beforeAll(async () => {
  stage = await openStage();
  shot = await stage.addShot("V1", { frames: "1-6" });
  await fs.mkdir(shot.folder, { recursive: true });
  for (const frame of [1, 2, 3]) await fs.writeFile(file(frame), picture(frame * 40));
  await look();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

test("the ledger tells the shot's own range, also where every second frame is asked for", async () => {
  await stage.addShot("V7", { frames: "1-24/2" });
  const line = (await viewShots("test-film")).shots.find((s) => s.code === "V7")!;
  expect([line.first, line.last, unpackTally(line.tally).asked.count]).toEqual([1, 24, 12]);
  expect((await viewShot("V7", NEWEST)).plan.frames).toBe("1-24/2");
});

test("shots page, shot page and command line tell the same tally", async () => {
  const line = (await viewShots("test-film")).shots.find((s) => s.code === "V1")!;
  const page = await viewSequence(shot.sequenceId);
  const status = JSON.parse((await stage.cli("status", "V1", "--json")).stdout) as {
    results: object;
    activity: object;
  };
  const counts = countsOf(unpackTally(line.tally));
  expect(counts.results).toMatchObject({ good: 3, missing: 3 });
  expect(countsOf(unpackTally(page.tally))).toEqual(counts);
  expect([status.results, status.activity]).toEqual([counts.results, counts.activity]);
  expect(formatPhrase(unpackSet(page.files.frames))).toBe("1-3");
  expect(line.poster).toMatchObject({ sequenceId: shot.sequenceId, frame: 3 });
});

test("a picture's address carries its content: an old address never shows a new picture", async () => {
  const address = async (): Promise<string> => (await viewSequence(shot.sequenceId)).files.content[1]!;
  const old = await address();
  const response = await pictureOf(shot.sequenceId, 2, old, { as: "shown" });
  expect([response.headers.get("content-type"), response.headers.get("cache-control")]).toEqual([
    "image/png",
    expect.stringContaining("immutable"),
  ]);
  expect(Buffer.from(await response.arrayBuffer()).equals(await fs.readFile(file(2)))).toBe(true);
  await fs.writeFile(file(2), picture(200));
  await expect(pictureOf(shot.sequenceId, 2, old, { as: "shown" })).rejects.toMatchObject({
    code: "picture-other",
  });
  await look();
  expect(await address()).not.toBe(old);
  expect((await pictureOf(shot.sequenceId, 2, await address(), { as: "shown" })).status).toBe(200);
  await expect(pictureOf(shot.sequenceId, 5, null, { as: "shown" })).rejects.toMatchObject({
    code: "picture-none",
  });
});

describe("for the viewer", () => {
  const pixels = (over: 1 | 2 | 4 | 8) =>
    ({ as: "pixels", over, signal: new AbortController().signal }) as const;
  const get = (frame: number, content: string | null, over: 1 | 2 | 4 | 8) =>
    pictureOf(shot.sequenceId, frame, content, pixels(over));
  /** Puts another picture under a frame's name: the viewer goes by what is in a file's name and bytes. */
  const address = async (frame: number): Promise<string> => {
    await look();
    return (await viewSequence(shot.sequenceId)).files.content[frame - 1]!;
  };

  test("eight bits travel as they are, smaller ones as JPEG with the size of the whole told", async () => {
    const content = await address(1);
    const whole = await get(1, content, 1);
    expect(Buffer.from(await whole.arrayBuffer()).equals(await fs.readFile(file(1)))).toBe(true);
    expect(whole.headers.get("cache-control")).toContain("immutable");
    const half = await get(1, content, 2);
    expect(half.headers.get("content-type")).toBe("image/jpeg");
    const { width, height } = await sharp(await half.arrayBuffer()).metadata();
    const shown = await sharp(await fs.readFile(file(1))).metadata();
    expect(half.headers.get("x-whole-size")).toBe(`${shown.width}x${shown.height}`);
    expect([width, height]).toEqual([Math.ceil(shown.width / 2), Math.ceil(shown.height / 2)]);
  });

  test("sixteen bits arrive as half floats, are kept by content, and not under another's address", async () => {
    const deep = {
      width: 4,
      height: 2,
      channels: 3,
      depth: 16,
      data: new Uint16Array(24).fill(32_768),
    } as const;
    await fs.writeFile(file(2), writePng(deep, {}, imageTools));
    const content = await address(2);
    const read = async (): Promise<ReturnType<typeof unpackHalfPicture>> => {
      const answer = await get(2, content, 1);
      expect(answer.headers.get("content-type")).toBe(HALF_PICTURE_TYPE);
      return unpackHalfPicture(await answer.arrayBuffer());
    };
    const picture = await read();
    expect(picture).toMatchObject({ width: 4, height: 2, channels: 3 });
    expect([...picture!.data].every((half) => fromHalf(half) === 0.5)).toBe(true);
    const place = path.join(dataFolder(), "viewer-pictures", `${content}-1.half`);
    expect((await fs.stat(place)).size).toBe(32 + 48);
    // It is answered from there even when the file is out of sight; another content is not.
    await fs.rename(file(2), `${file(2)}.away`);
    expect((await read())!.width).toBe(4);
    await expect(get(2, "0123456789abcdef", 1)).rejects.toMatchObject({ code: "picture-gone" });
    await fs.rename(`${file(2)}.away`, file(2));
    await expect(get(2, "0123456789abcdef", 1)).rejects.toMatchObject({ code: "picture-other" });
  });

  test("a damaged file is told in words, and a size that there is not is refused", async () => {
    const bytes = await fs.readFile(file(3));
    await fs.writeFile(file(3), bytes.subarray(0, bytes.length - 30));
    await expect(get(3, null, 1)).rejects.toMatchObject({ code: "picture-unreadable" });
    expect(() => formOf(new Request("http://house/x?as=pixels&over=3"))).toThrow("over 2, 4, 8");
  });
});

test("the newest version is shown, an older one when asked for; its files stay its own", async () => {
  await openVersion("V1", { ...PLAN, frames: "1-6", namePattern: "{shot}_{version}.{frame}" });
  const newest = await viewShot("V1", NEWEST);
  expect([newest.sequence.version, newest.hasFiles, newest.choices.map((c) => c.version)]).toEqual([
    2,
    false,
    [1, 2],
  ]);
  const first = await viewShot("V1", { ...NEWEST, version: { version: 1, purpose: "final" } });
  expect([first.sequence.id, first.hasFiles, first.folder]).toEqual([shot.sequenceId, true, shot.folder]);
  await expect(
    viewShot("V1", { ...NEWEST, version: { version: 9, purpose: "final" } }),
  ).rejects.toMatchObject({ code: "sequence-not-of-shot" });
  await expect(viewShot("NONE", NEWEST)).rejects.toMatchObject({ code: "shot-unknown" });
});

test("cameras of a scene are told; a scene outside the project is refused", async () => {
  expect(await viewScene("V1", "scenes/test.json")).toMatchObject({
    cameras: ["main", "side"],
    rate: { numerator: 24, denominator: 1 },
    lightEvery: null,
    version: expect.stringMatching(/^[0-9a-f]{16}$/),
  });
  await expect(viewScene("V1", "../../etc/hostname")).rejects.toMatchObject({ code: "path-outside-root" });
});

test("a run shows what it has left, and its log its nodes' lines in order", async () => {
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["quay-1"],
    scope: "version",
  });
  expect((await viewSequence(shot.sequenceId)).runs[0]).toMatchObject({
    id: runId,
    state: "active",
    total: 3,
    left: 3,
    done: 0,
    likelyFinish: null,
  });
  await stage.startNode("quay-1");
  await until("the run is done", async () => (await viewSequence(shot.sequenceId)).runs[0]!.state === "done");
  const [run] = (await viewSequence(shot.sequenceId)).runs;
  expect(run).toMatchObject({ total: 3, left: 0, done: 3, failed: 0 });
  expect(run!.secondsAFrame).toBeGreaterThan(0);
  const log = await viewLog(runId, {});
  expect(log.map((l) => l.id)).toEqual(log.map((l) => l.id).sort((a, b) => a - b));
  for (const frame of [4, 5, 6])
    expect(log.filter((l) => l.frame === frame).map((l) => l.text)).toEqual([
      "started on quay-1",
      expect.stringMatching(/^written after \d+\.\d\d s, \d+ bytes$/),
    ]);
});

describe("news", () => {
  const heard: LiveMessage[] = [];
  let leave: () => void;
  beforeAll(() => {
    leave = live().subscribe((message) => heard.push(message));
  });
  afterAll(() => leave());
  const changed = (): (number[] | null)[] =>
    heard.flatMap((m) => (m.type === "changed" ? [m.sequences === null ? null : [...m.sequences]] : []));

  test("who listens hears of nodes at once, and of each change by its sequence", async () => {
    const first = await until("the first news", () => Promise.resolve(heard.find((m) => m.type === "live")));
    expect(first.type === "live" && first.nodes.map((n) => n.name)).toEqual(["quay-1"]);
    const { runId } = await startRun({
      sequenceId: shot.sequenceId,
      phrase: "1",
      policy: "all",
      nodes: ["nobody"],
      scope: "version",
    });
    await until("the run is news", () =>
      Promise.resolve(changed().some((s) => s?.includes(shot.sequenceId))),
    );
    const before = changed().length;
    await stopRun(runId, "now");
    await until("its stop is news", () => Promise.resolve(changed().length > before));
  });

  test("an event whose transaction commits late, behind a later id, is not lost", async () => {
    const late = (await stage.addShot("V2")).sequenceId;
    const early = (await stage.addShot("V3")).sequenceId;
    // New plans are news for every page; once a sequence is named alone again, all that was before is told.
    heard.length = 0;
    await until("what was before is told", async () => {
      await appendEvent(pool(), "files", shot.sequenceId);
      return changed().some((s) => s?.includes(shot.sequenceId));
    });
    await transact(async (tx) => {
      await appendEvent(tx, "files", late);
      await appendEvent(pool(), "files", early);
      await until("the later id is told while the earlier is still open", () =>
        Promise.resolve(changed().some((s) => s?.includes(early))),
      );
      expect(changed().some((s) => s?.includes(late))).toBe(false);
    });
    await until("the late one is told too", () => Promise.resolve(changed().some((s) => s?.includes(late))));
  });
});

test("the pace of a run is told as it is now: it falls while the next frame lets wait for it, and there is none while the run stands still", async () => {
  const { sequenceId } = await stage.addShot("V9", { frames: "1-9" });
  const { runId } = await startRun({
    sequenceId,
    scope: "version",
    phrase: "all",
    policy: "fill",
    // The stage's own node would take frames of it, too.
    nodes: ["quay-9"],
    priority: 1,
  });
  expect(await viewPace(runId)).toEqual({
    secondsAFrame: null,
    framesAMinute: null,
    likelyFinish: null,
    lateFinish: null,
  });
  const node = {
    id: await saveNode(pool(), { name: "quay-9", host: "here", processors: 2, pid: 1, session: "s" }),
    name: "quay-9",
  };
  const lease = () => until("a frame of the run can be leased", async () => claim(pool(), node));
  for (let i = 0; i < 4; i++) {
    const held = await lease();
    await transact(async (tx) => finish(tx, held, { ...NOTHING, renderSeconds: 10 }));
  }
  await lease();
  /** Frames of ten seconds, one after the other; the last ended so long ago. */
  const paceAfter = async (seconds: number) => {
    await write(
      pool(),
      `UPDATE attempt
        SET ended_at = NOW(3) - INTERVAL (? + (4 - frame) * 10) SECOND,
          started_at = NOW(3) - INTERVAL (? + (5 - frame) * 10) SECOND
        WHERE run_id = ? AND outcome = 'done'`,
      [seconds, seconds, runId],
    );
    return viewPace(runId);
  };
  expect(await paceAfter(0)).toMatchObject({
    secondsAFrame: 10,
    framesAMinute: 6,
    likelyFinish: expect.any(Number),
    lateFinish: expect.any(Number),
  });
  // Three frames in thirty seconds, and twenty for the next that is not there yet.
  expect((await paceAfter(20)).framesAMinute).toBeLessThanOrEqual(4.8);
  expect((await paceAfter(100)).framesAMinute).toBeNull();
  await expect(viewPace(999_999)).rejects.toMatchObject({ code: "run-unknown" });
});
