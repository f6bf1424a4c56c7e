import fs from "node:fs/promises";
import path from "node:path";
import { formatPhrase } from "@/core/frames/phrase";
import { addTexts } from "@/core/image/add-texts";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { countsOf, todoOf } from "@/core/tally/tally";
import { closePool, pool, transact } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { imageTools } from "@/server/files/image-tools";
import { FILE_TEXT } from "@/server/files/origin";
import { closedFindings, openFindings } from "@/server/store/findings";
import { lockFile } from "@/server/store/frame-files";
import { sequenceById } from "@/server/store/shots";
import { catchUp, checkSequence } from "@/server/folder/check";
import { clearFlags, flagFrames } from "@/server/actions/flags";
import { loadSequence } from "@/server/views/tally";
import { PLAN } from "../support/plan";
import { openStage, type Stage, until } from "../support/stage";
import { watchFolders } from "@/server/folder/folder-watch";

let stage: Stage;
let shot: Awaited<ReturnType<Stage["addShot"]>>;

beforeAll(async () => {
  stage = await openStage();
  shot = await stage.addShot("F1", { frames: "1-6" });
  await fs.mkdir(shot.folder, { recursive: true });
  for (let frame = 1; frame <= 6; frame++) await fs.writeFile(file(frame), picture(frame));
  await catchUp((await sequenceById(pool(), shot.sequenceId))!);
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const file = (frame: number): string => path.join(shot.folder, `F1.${String(frame).padStart(4, "0")}.png`);
const picture = (shade: number, width = PLAN.width): Uint8Array =>
  writePng(
    rgb8(
      width,
      PLAN.height,
      Uint8Array.from({ length: width * PLAN.height * 3 }, (_, i) => (i * 7 * shade) & 255),
    ),
    {},
    imageTools,
  );
const results = async () => countsOf((await loadSequence(shot.sequenceId)).tally).results;
const look = async () => catchUp((await sequenceById(pool(), shot.sequenceId))!);

test("files that were there before are taken in as good", async () =>
  expect(await results()).toMatchObject({ good: 6, missing: 0 }));

test("deleted, cut short, emptied, of another size, not asked for: each is seen for what it is", async () => {
  await fs.rm(file(1));
  const cut = Math.floor((await fs.stat(file(2))).size / 2);
  await fs.truncate(file(2), cut);
  await fs.truncate(file(3), 0);
  await fs.writeFile(file(4), picture(4, 20));
  await fs.writeFile(file(9), picture(9));
  const noticed = await look();
  expect([formatPhrase(noticed.gone), formatPhrase(noticed.changed), formatPhrase(noticed.appeared)]).toEqual(
    ["1", "2-4", "9"],
  );
  const { tally } = await loadSequence(shot.sequenceId);
  expect(countsOf(tally).results).toMatchObject({ good: 2, flagged: 3, missing: 1, extra: 1 });
  expect(formatPhrase(todoOf(tally))).toBe("1-4");
  const found = await openFindings(pool(), shot.sequenceId);
  expect(found.map((f) => [f.frame, f.code])).toEqual([
    [2, "truncated"],
    [3, "empty"],
    [4, "other-size"],
  ]);
  expect(found[0]!.text).toMatch(
    new RegExp(`^cut short after ${cut} bytes; \\d+ % of the picture is there$`),
  );
});

test("damage that is looked at again, by two at once, stays the one finding: nothing was fixed", async () => {
  const before = await openFindings(pool(), shot.sequenceId);
  const sequence = (await sequenceById(pool(), shot.sequenceId))!;
  await fs.utimes(file(2), new Date(), new Date());
  await Promise.all([catchUp(sequence), catchUp(sequence)]);
  await checkSequence(sequence);
  expect(await openFindings(pool(), shot.sequenceId)).toEqual(before);
  expect(await closedFindings(pool(), shot.sequenceId)).toEqual([]);
});

test("a temporary file, a stranger and a conflicted copy are no frames", async () => {
  for (const name of ["F1.0005.png.part12", "notes.txt", "F1.0006 (conflicted copy).png"])
    await fs.writeFile(path.join(shot.folder, name), "x");
  const noticed = await look();
  expect(noticed.appeared.count + noticed.changed.count).toBe(0);
});

test("a file that is whole again loses what a check had found; a flag by hand stays", async () => {
  await flagFrames(shot.sequenceId, "2,5", "the wrong buoy");
  await fs.writeFile(file(2), picture(2));
  await look();
  expect((await openFindings(pool(), shot.sequenceId)).map((f) => [f.frame, f.code])).toEqual([
    [2, "by-hand"],
    [3, "empty"],
    [4, "other-size"],
    [5, "by-hand"],
  ]);
  expect(await clearFlags(shot.sequenceId, "1-5")).toBe(2);
  expect((await openFindings(pool(), shot.sequenceId)).map((f) => f.frame)).toEqual([3, 4]);
});

test("a whole file that says it is another frame's is wrong with this one, until it is right", async () => {
  const made = await fs.readFile(file(6));
  const saying = (frame: number): Buffer =>
    Buffer.from(addTexts(picture(6), { [FILE_TEXT]: JSON.stringify({ frame }) }, imageTools.crc32));
  await fs.writeFile(file(6), saying(5));
  await look();
  expect((await openFindings(pool(), shot.sequenceId)).filter((f) => f.frame === 6)).toMatchObject([
    { code: "other-frame", text: "the file says that it is frame 5, its name that it is 6" },
  ]);
  await fs.writeFile(file(6), made);
  await look();
  expect((await openFindings(pool(), shot.sequenceId)).filter((f) => f.frame === 6)).toEqual([]);
});

test("what has no file cannot be flagged, and a wrong phrase is told with its column", async () => {
  await expect(flagFrames(shot.sequenceId, "1", "not there")).rejects.toMatchObject({
    code: "no-file-to-flag",
  });
  await expect(flagFrames(shot.sequenceId, "2,x y", "?")).rejects.toMatchObject({
    code: "phrase-wrong",
    message: expect.stringContaining("column 3"),
  });
});

test("a phrase of half a billion frames takes back the flags there are, and is not walked through", async () => {
  await flagFrames(shot.sequenceId, "5", "too dark");
  expect(await clearFlags(shot.sequenceId, "1-999999999/2")).toBe(1);
  expect(await clearFlags(shot.sequenceId, "1-999999999/2")).toBe(0);
});

test("Check reads every file anew: damage that kept size and time is found too", async () => {
  const { mtime, atime } = await fs.stat(file(6));
  const bytes = await fs.readFile(file(6));
  bytes[bytes.length - 40]! ^= 1;
  await fs.writeFile(file(6), bytes);
  await fs.utimes(file(6), atime, mtime);
  await look();
  expect((await loadSequence(shot.sequenceId)).findings.some((f) => f.frame === 6)).toBe(false);
  await checkSequence((await sequenceById(pool(), shot.sequenceId))!);
  expect((await loadSequence(shot.sequenceId)).findings).toContainEqual(
    expect.objectContaining({ frame: 6, code: "corrupt" }),
  );
});

test("a check that is cancelled keeps what it has read and leaves no frame checking", async () => {
  await checkSequence((await sequenceById(pool(), shot.sequenceId))!, (job) => job.cancel.abort());
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).activity.checking).toBe(0);
});

describe("the folder watch", () => {
  let endWatch: () => Promise<void>;
  beforeAll(() => {
    endWatch = watchFolders(500);
  });
  afterAll(() => endWatch());
  const good = async (sequenceId: number): Promise<number> =>
    countsOf((await loadSequence(sequenceId)).tally).results.good;

  test("looks at a folder that never comes to rest", async () => {
    const busy = await stage.addShot("F8", { frames: "1-1000" });
    await fs.mkdir(busy.folder, { recursive: true });
    let frame = 0;
    await until("files are taken in while others go on to appear", async () => {
      frame = (frame % 1000) + 1;
      await fs.writeFile(path.join(busy.folder, `F8.${String(frame).padStart(4, "0")}.png`), picture(frame));
      return (await good(busy.sequenceId)) > 0;
    });
  });

  test("a folder that cannot be read keeps nothing from being seen in the others", async () => {
    const spoilt = await stage.addShot("F10", { frames: "1-3" });
    await fs.mkdir(spoilt.folder, { recursive: true });
    await fs.writeFile(path.join(spoilt.folder, "F10.0001.png"), picture(1));
    await until("it is watched", async () => (await good(spoilt.sequenceId)) === 1);
    await fs.rename(spoilt.folder, `${spoilt.folder}-before`);
    await fs.writeFile(spoilt.folder, "no folder any more");
    const other = await stage.addShot("F11", { frames: "1-3" });
    await fs.mkdir(other.folder, { recursive: true });
    await fs.writeFile(path.join(other.folder, "F11.0001.png"), picture(1));
    await until("the other is looked at", async () => (await good(other.sequenceId)) === 1);
  });

  test("sees a folder that is deleted, made again, and filled again", async () => {
    const again = await stage.addShot("F9", { frames: "1-3" });
    const fill = async (): Promise<void> => {
      await fs.mkdir(again.folder, { recursive: true });
      for (const frame of [1, 2, 3])
        await fs.writeFile(path.join(again.folder, `F9.000${frame}.png`), picture(frame));
    };
    await fill();
    await until("they are taken in", async () => (await good(again.sequenceId)) === 3);
    await fs.rm(again.folder, { recursive: true });
    await until("they are missed", async () => (await good(again.sequenceId)) === 0);
    await fill();
    await until("they are taken in again", async () => (await good(again.sequenceId)) === 3);
  });

  test("ended in the middle of a sweep, it holds no folder and asks nothing more", async () => {
    const held = await stage.addShot("F12", { frames: "1-3" });
    await fs.mkdir(held.folder, { recursive: true });
    await fs.writeFile(path.join(held.folder, "F12.0001.png"), picture(1));
    await until("it is taken in", async () => (await good(held.sequenceId)) === 1);
    let isEnded = false;
    let ended: Promise<void> | undefined;
    await transact(async (tx) => {
      await lockFile(tx, held.sequenceId, 1);
      // Another folder of the same name (renamed above it, of which its own watch hears nothing): a sweep lets
      // the old one go and is about to watch the new one.
      await fs.rename(path.dirname(held.folder), `${path.dirname(held.folder)}-before`);
      await fs.mkdir(held.folder, { recursive: true });
      await until("a sweep waits for our lock", async () => {
        const waiting = `
          SELECT 1
          FROM information_schema.processlist
          WHERE db = DATABASE() AND command = 'Query' AND info LIKE '%FROM frame_file%FOR UPDATE%'
            AND id <> CONNECTION_ID() AND time_ms > 50`;
        return (await rows(pool(), waiting)).length > 0;
      });
      ended = endWatch().then(() => {
        isEnded = true;
      });
      await good(held.sequenceId);
      expect(isEnded).toBe(false);
    });
    await ended;
    await until("the system watches nothing for us any more", async () =>
      process.getActiveResourcesInfo().every((kind) => kind !== "FSEventWrap"),
    );
  });
});
