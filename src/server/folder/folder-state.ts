/**
 * The folder is the truth: brings the database's view of a sequence in line with its folder.
 * `notice` records what appeared, changed or went away, cheaply, by size and time. `look` reads
 * files and judges them. Neither ever writes to a frame.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { difference, EMPTY, type FrameSet, has, setOf } from "@/core/frames/frame-set";
import { checkFile, readImageTexts } from "@/core/image/check-file";
import { extensionOf } from "@/core/image/file-format";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { groupFiles } from "@/core/naming/group-files";
import { scaledSize } from "@/core/plan/picture";
import { nameValues } from "@/core/plan/plan";
import { fileName } from "@/core/naming/pattern";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { FILE_TEXT } from "../engines/engine";
import { projectFolder, sequenceFolder } from "../files/paths";
import { imageTools } from "../files/image-tools";
import { appendEvent } from "../store/events";
import { replaceCheckFinding } from "../store/findings";
import {
  deleteFile,
  type FileIdentity,
  type FileRow,
  listFiles,
  lockFile,
  saveFile,
  saveUnlookedFile,
} from "../store/frame-files";
import { latestRevision, type SequenceRow } from "../store/shots";
import { type CheckJob, checkJobs } from "./check-jobs";
import { noticeCheckpoints } from "./checkpoints";
import { takeInReturned } from "./returned-frames";
import { readSavedPlan } from "../views/tally";

export interface FileOrigin {
  readonly look: string | null;
  readonly effort: string | null;
  readonly samples: number | null;
  readonly attempt: number | null;
  readonly node: string | null;
}

const NO_ORIGIN: FileOrigin = { look: null, effort: null, samples: null, attempt: null, node: null };

/** Who made a file, by its own word; foreign files say nothing. */
export function originOf(bytes: Uint8Array): FileOrigin {
  const text = readImageTexts(bytes).get(FILE_TEXT);
  if (text === undefined) return NO_ORIGIN;
  try {
    const value = JSON.parse(text) as Record<string, unknown>;
    const string = (key: string): string | null =>
      typeof value[key] === "string" ? (value[key] as string) : null;
    const number = (key: string): number | null =>
      Number.isInteger(value[key]) ? (value[key] as number) : null;
    return {
      look: string("look"),
      effort: string("effort"),
      samples: number("samples"),
      attempt: number("attempt"),
      node: string("node"),
    };
  } catch {
    return NO_ORIGIN;
  }
}

export const folderOf = (sequence: SequenceRow): string =>
  path.join(projectFolder(sequence), sequenceFolder(sequence.shot, sequence));

interface Listed {
  readonly folder: string;
  readonly files: ReadonlyMap<number, FileIdentity>;
  readonly width: number;
  readonly height: number;
}

/** The plan's frames in the folder: of several files of one number the one that has the plan's name, else the widest. */
async function listFolder(sequence: SequenceRow): Promise<Listed> {
  const revision = await latestRevision(pool(), sequence.versionId);
  const read = revision === null ? null : readSavedPlan(revision);
  const folder = folderOf(sequence);
  const names = await fs.readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return [];
    throw new TallyError(
      "folder-unreadable",
      `The folder ${folder} cannot be read (${error.code}). Frames in it are not lost; mend the folder or the share, then try again.`,
      [],
      { cause: error },
    );
  });
  const groups = groupFiles(names.map((name) => ({ name, bytes: 0 })));
  const files = new Map<number, FileIdentity>();
  const wanted = (frame: number): string | null =>
    read === null
      ? null
      : fileName(
          read.pattern,
          nameValues(sequence.project, sequence.shot, sequence),
          frame,
          extensionOf(read.plan.file),
        );
  // The group whose files bear the plan's name; a folder of foreign names is not this sequence.
  const own = groups.sequences.filter((group) => group.files.some((f) => f.name === wanted(f.frame)));
  for (const file of own.flatMap((group) => group.files)) {
    if (files.has(file.frame) && file.name !== wanted(file.frame)) continue;
    const stat = await fs.stat(path.join(folder, file.name)).catch(() => null);
    if (stat?.isFile())
      files.set(file.frame, { name: file.name, bytes: stat.size, modifiedMs: stat.mtimeMs });
  }
  return { folder, files, ...(read === null ? { width: 0, height: 0 } : scaledSize(read.plan)) };
}

const isSame = (known: FileIdentity | undefined | null, seen: FileIdentity): boolean =>
  known != null &&
  known.name === seen.name &&
  known.bytes === seen.bytes &&
  Math.abs(known.modifiedMs - seen.modifiedMs) < 1;

export interface Noticed {
  readonly appeared: FrameSet;
  readonly changed: FrameSet;
  readonly gone: FrameSet;
}

/** Compares the folder with what is known; new and changed files become unlooked, gone ones are forgotten. */
export async function notice(sequence: SequenceRow): Promise<Noticed> {
  const [{ folder, files }, known] = [
    await listFolder(sequence),
    new Map((await listFiles(pool(), sequence.id)).map((f) => [f.frame, f])),
  ];
  const appeared: number[] = [];
  const changed: number[] = [];
  for (const [frame, seen] of files) {
    if (isSame(known.get(frame), seen)) continue;
    const isNew = await transact(async (tx) => {
      // A node may be finishing this frame: look again under the lock.
      const now = await lockFile(tx, sequence.id, frame);
      const stat = await fs.stat(path.join(folder, seen.name)).catch(() => null);
      const fresh = stat === null ? null : { name: seen.name, bytes: stat.size, modifiedMs: stat.mtimeMs };
      if (fresh === null || isSame(now, fresh)) return null;
      await saveUnlookedFile(tx, sequence.id, frame, fresh);
      return now === null;
    });
    if (isNew !== null) (isNew ? appeared : changed).push(frame);
  }
  const gone: number[] = [];
  for (const [frame, file] of known) {
    if (files.has(frame)) continue;
    const isGone = await transact(async (tx) => {
      const now = await lockFile(tx, sequence.id, frame);
      const stat = await fs.stat(path.join(folder, file.name)).catch(() => null);
      if (now === null || stat !== null) return false;
      await deleteFile(tx, sequence.id, frame);
      return true;
    });
    if (isGone) gone.push(frame);
  }
  const noticed = { appeared: setOf(appeared), changed: setOf(changed), gone: setOf(gone) };
  if (appeared.length + changed.length + gone.length > 0)
    await transact((tx) => appendEvent(tx, "files", sequence.id));
  return noticed;
}

/** Reads one file and writes down what it is. Findings of checks follow the verdict. */
async function lookAt(
  sequence: SequenceRow,
  folder: string,
  frame: number,
  file: FileRow,
  size: { readonly width: number; readonly height: number },
): Promise<void> {
  const place = path.join(folder, file.name);
  let bytes: Uint8Array;
  let verdict: FileVerdict;
  let modifiedMs: number;
  try {
    const before = await fs.stat(place);
    bytes = await fs.readFile(place);
    modifiedMs = before.mtimeMs;
    verdict = checkFile(file.name, bytes, imageTools);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return;
    bytes = new Uint8Array(0);
    modifiedMs = file.modifiedMs;
    verdict = damaged(
      null,
      "unreadable",
      `the file cannot be read (${(error as NodeJS.ErrnoException).code})`,
    );
  }
  const fits = verdict.verdict !== "good" || (verdict.width === size.width && verdict.height === size.height);
  const finding =
    verdict.verdict === "damaged"
      ? { code: verdict.code ?? "damaged", text: verdict.detail ?? "" }
      : fits
        ? null
        : {
            code: "other-size",
            text: `the picture is ${verdict.width} x ${verdict.height}, the plan asks for ${size.width} x ${size.height}`,
          };
  const content = sha256(bytes);
  await transact(async (tx) => {
    const now = await lockFile(tx, sequence.id, frame);
    // Somebody replaced the file meanwhile: what was read is of no interest any more.
    if (now === null || !isSame(now, file)) return;
    const origin = originOf(bytes);
    const sameMaker = now.attemptId !== null && now.attemptId === origin.attempt;
    await saveFile(tx, sequence.id, frame, {
      name: file.name,
      bytes: bytes.length === 0 ? file.bytes : bytes.length,
      modifiedMs,
      content,
      verdict,
      look: origin.look,
      effort: origin.effort,
      samples: origin.samples,
      attemptId: origin.attempt,
      node: origin.node,
      seconds: sameMaker ? now.seconds : null,
      luminance: now.content === content ? now.luminance : null,
      noise: now.content === content ? now.noise : null,
    });
    await replaceCheckFinding(tx, sequence.id, frame, finding);
  });
}

/** A change is shown after so many files, so that a long check is seen to go on. */
const EVENT_EVERY = 50;

/** Looks at the files of `frames`. Cancelled, it keeps what it has looked at. */
async function look(sequence: SequenceRow, frames: FrameSet, job: CheckJob | null): Promise<void> {
  const { folder, width, height } = await listFolder(sequence);
  const files = (await listFiles(pool(), sequence.id)).filter((f) => has(frames, f.frame));
  for (const [i, file] of files.entries()) {
    if (job?.cancel.signal.aborted) break;
    await lookAt(sequence, folder, file.frame, file, { width, height });
    if (job !== null) {
      job.done = i + 1;
      if ((i + 1) % EVENT_EVERY === 0) {
        job.left = difference(job.left, setOf(files.slice(i + 1 - EVENT_EVERY, i + 1).map((f) => f.frame)));
        await transact((tx) => appendEvent(tx, "files", sequence.id));
      }
    }
  }
  await transact((tx) => appendEvent(tx, "files", sequence.id));
}

/** Notices changes and looks at every file that nothing has looked at. What the folder watch does. */
export async function catchUp(sequence: SequenceRow): Promise<Noticed> {
  const noticed = await notice(sequence);
  if (sequence.pass === "beauty") await noticeCheckpoints(sequence);
  const unlooked = setOf(
    (await listFiles(pool(), sequence.id)).filter((f) => f.verdict === null).map((f) => f.frame),
  );
  if (unlooked.count > 0) await look(sequence, unlooked, null);
  await takeInReturned(sequence.versionId);
  return noticed;
}

/** The Check that a person presses: notices changes, then reads every file anew. One a sequence at a time. */
export async function checkSequence(
  sequence: SequenceRow,
  onStart: (job: CheckJob) => void = () => undefined,
): Promise<Noticed> {
  const noticed = await notice(sequence);
  const files = setOf((await listFiles(pool(), sequence.id)).map((f) => f.frame));
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
