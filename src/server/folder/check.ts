/**
 * Reads the files of a sequence and judges them: what nothing has looked at after each change, all of
 * them when a person asks. The folder is the truth; a frame is never written to.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { difference, EMPTY, type FrameSet, has, setOf } from "@/core/frames/frame-set";
import { checkFile } from "@/core/image/check-file";
import { encodingOf } from "@/core/image/encoding";
import { type Asked, askedOf, planFault } from "@/core/plan/against-plan";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { pool, transact } from "../db/pool";
import { checkDeep } from "../files/check-deep";
import { sha256 } from "../files/content";
import { imageTools } from "../files/image-tools";
import { appendEvent, appendFrameEvent } from "../store/events";
import { closeFindingsOfOthers, replaceCheckFinding } from "../store/findings";
import { type FileRow, listFiles, lockFile, saveFile } from "../store/frame-files";
import { readSavedPlan, revisionsOfVersion, type SequenceRow } from "../store/shots";
import { sequencePlace } from "../files/layout";
import { type CheckJob, checkJobs } from "./check-jobs";
import { noticeCheckpoints } from "./checkpoints";
import { takeInReturned } from "./returned-frames";
import { originOf } from "../files/origin";
import { isSame, type Noticed, notice } from "./notice";
import { requireSequenceInSight } from "./project-sight";
import { hasNewlyOver, isClaim, partClaims } from "./claims";
import { unrestedAmong } from "./rest";
import { readRegular } from "../files/read-regular";

/** Code of a file that is there and cannot be read. */
const UNREADABLE = "unreadable";

/**
 * A file that is there and cannot be read, though the share answers. What is known of its content stays: it is
 * looked at again with each look at the folder, and may be whole.
 */
async function noteUnreadable(
  sequence: SequenceRow,
  file: FileRow,
  errno: string | undefined,
): Promise<void> {
  const verdict = damaged(null, UNREADABLE, `the file cannot be read (${errno})`);
  await transact(async (tx) => {
    const now = await lockFile(tx, sequence.id, file.frame);
    if (now === null || !isSame(now, file)) return;
    await saveFile(tx, sequence.id, file.frame, { ...now, content: now.content ?? "", verdict });
    await replaceCheckFinding(tx, sequence.id, file.frame, { code: UNREADABLE, text: verdict.detail! });
  });
}

/** What a file is judged by. */
interface Judging {
  readonly asked: Asked | null;
  /** Nothing writes it any more. */
  readonly isAtRest: boolean;
}

/** Reads one file and writes down what it is. Findings of checks follow the verdict. */
async function lookAt(
  sequence: SequenceRow,
  folder: string,
  frame: number,
  file: FileRow,
  { asked, isAtRest }: Judging,
): Promise<void> {
  const place = path.join(folder, file.name);
  let bytes: Uint8Array;
  let verdict: FileVerdict;
  let modifiedMs: number;
  try {
    const before = await fs.stat(place);
    bytes = await readRegular(place);
    modifiedMs = before.mtimeMs;
    verdict = checkFile(file.name, bytes, imageTools);
    // What only unpacking told of these bytes is asked again by unpacking them.
    if (verdict.verdict === "good" && file.verdict === "damaged" && file.content === sha256(bytes))
      verdict = await checkDeep(file.name, bytes);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === "ENOENT") return;
    await requireSequenceInSight(sequence);
    return noteUnreadable(sequence, file, code);
  }
  // Half of what is coming, perhaps: nothing is said of it yet.
  if (verdict.verdict === "damaged" && !isAtRest) return;
  const origin = originOf(bytes);
  const finding =
    verdict.verdict === "damaged"
      ? { code: verdict.code ?? "damaged", text: verdict.detail ?? "" }
      : verdict.verdict === "good" && asked !== null
        ? // What comes from elsewhere may have been numbered anew.
          planFault(
            frame,
            {
              ...verdict,
              frame: sequence.source === null ? origin.frame : null,
              encoding: encodingOf(file.name, bytes),
            },
            asked,
          )
        : null;
  const content = sha256(bytes);
  await transact(async (tx) => {
    const now = await lockFile(tx, sequence.id, frame);
    // Somebody replaced the file meanwhile: what was read is of no interest any more.
    if (now === null || !isSame(now, file)) return;
    const sameMaker = now.attemptId !== null && now.attemptId === origin.attempt;
    await saveFile(tx, sequence.id, frame, {
      name: file.name,
      bytes: bytes.length,
      modifiedMs,
      content,
      verdict,
      look: origin.look,
      effort: origin.effort,
      samples: origin.samples,
      attemptId: origin.attempt,
      node: origin.node,
      // Of a file from elsewhere they are from the claim on its frame to the file itself.
      seconds: sameMaker || sequence.source !== null ? now.seconds : null,
      luminance: now.content === content ? now.luminance : null,
      noise: now.content === content ? now.noise : null,
    });
    await replaceCheckFinding(tx, sequence.id, frame, finding);
    if (sequence.source !== null && verdict.verdict === "good")
      await closeFindingsOfOthers(tx, sequence.id, frame, content);
  });
}

/** What is asked of pictures of a sequence; null without a plan. Read once for many files. */
async function askedOfSequence({ versionId, camera, pass }: SequenceRow): Promise<Asked | null> {
  const [newest, ...earlier] = await revisionsOfVersion(pool(), versionId);
  return newest === undefined
    ? null
    : askedOf(
        readSavedPlan(newest).plan,
        camera,
        pass,
        earlier.map(({ plan }) => plan),
      );
}

/** A change is shown after so many files, so that a long check is seen to go on. */
const EVENT_EVERY = 50;

/**
 * Looks at the files of `frames`. Cancelled, it keeps what it has looked at.
 * @returns whether some were left for later, as they were not at rest when it began
 */
export async function look(sequence: SequenceRow, frames: FrameSet, job: CheckJob | null): Promise<boolean> {
  const folder = sequencePlace(sequence);
  const asked = await askedOfSequence(sequence);
  const files = (await listFiles(pool(), sequence.id)).filter(
    (f) => has(frames, f.frame) && !isClaim(sequence, f),
  );
  const unrested = await unrestedAmong(sequence);
  for (const [i, file] of files.entries()) {
    if (job?.cancel.signal.aborted) break;
    await lookAt(sequence, folder, file.frame, file, { asked, isAtRest: !unrested.frames.has(file.frame) });
    if (job !== null) {
      job.done = i + 1;
      if ((i + 1) % EVENT_EVERY === 0) {
        const read = files.slice(i + 1 - EVENT_EVERY, i + 1);
        job.left = difference(job.left, setOf(read.map((f) => f.frame)));
        await transact((tx) =>
          appendFrameEvent(
            tx,
            "files",
            { sequenceId: sequence.id, runId: null },
            read[0]!.frame,
            read.at(-1)!.frame,
          ),
        );
      }
    }
  }
  await transact((tx) => appendEvent(tx, "files", sequence.id));
  return files.some(({ frame }) => unrested.frames.has(frame));
}

/** What was noticed, and what is still to be judged. */
export interface CaughtUp extends Noticed {
  /** Until files that something else writes can be judged; 0 where none is waited for. */
  readonly restsInMs: number;
}

/** Notices changes and looks at every file that nothing has looked at. What the folder watch does. */
export async function catchUp(sequence: SequenceRow): Promise<CaughtUp> {
  const noticed = await notice(sequence);
  if (sequence.pass === "beauty") await noticeCheckpoints(sequence);
  const files = await listFiles(pool(), sequence.id);
  const unlooked = setOf(
    files
      .filter((f) => (f.verdict === null && !isClaim(sequence, f)) || f.code === UNREADABLE)
      .map((f) => f.frame),
  );
  const isLeft = unlooked.count > 0 && (await look(sequence, unlooked, null));
  await takeInReturned(sequence.versionId);
  if (hasNewlyOver(sequence.id, partClaims(sequence, files).claims))
    await transact((tx) => appendEvent(tx, "files", sequence.id));
  const { leftMs } = await unrestedAmong(sequence);
  // What came to rest while others were looked at was left all the same: it is looked at once more, at once.
  return { ...noticed, restsInMs: isLeft ? Math.max(1, leftMs) : leftMs };
}

/** The Check that a person presses: notices changes, then reads every file anew. One a sequence at a time. */
export async function checkSequence(
  sequence: SequenceRow,
  onStart: (job: CheckJob) => void = () => undefined,
): Promise<Noticed> {
  const noticed = await notice(sequence);
  const known = (await listFiles(pool(), sequence.id)).filter((f) => !isClaim(sequence, f));
  const files = setOf(known.map((f) => f.frame));
  const jobs = checkJobs();
  const running = jobs.get(sequence.id);
  if (running !== undefined) {
    onStart(running);
    return noticed;
  }
  const job: CheckJob = {
    sequenceId: sequence.id,
    total: files.count,
    done: 0,
    left: files,
    cancel: new AbortController(),
  };
  jobs.set(sequence.id, job);
  onStart(job);
  try {
    await look(sequence, files, job);
  } finally {
    job.left = EMPTY;
    jobs.delete(sequence.id);
    await transact((tx) => appendEvent(tx, "files", sequence.id));
  }
  return noticed;
}
