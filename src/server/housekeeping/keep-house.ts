/**
 * Housekeeping: what nobody needs any more is removed, by itself, whether anybody watches or not. The server and
 * every node look once an hour; whoever comes first does it. How long what is kept is in the configuration.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { KeepDays } from "@/contract/configuration";
import { settings } from "../configuration";
import { isDatabaseAway } from "../db/away";
import { type Pool, transact } from "../db/pool";
import { asideFiles, asideFolderOf, asideNamesIn } from "../folder/aside";
import { acceptedFolder, keptFolder, versionPlace } from "../files/layout";
import {
  goodFrames,
  removeOldAttempts,
  removeOldEvents,
  removeOldFindings,
  removeOldLines,
  removeOldQuestions,
  removeOldTasks,
  takeTurn,
} from "../store/housekeeping";
import { listSequences, type SequenceRow } from "../store/shots";

/** Between two goes. */
const EVERY_MINUTES = 60;
/** Of each go: what is left is for the next one. */
const AT_MOST_MS = 60_000;
/** A page that slept longer asks for everything. */
const EVENT_HOURS = 24;
const DAY_MS = 86_400_000;

/** Removes what is older. @returns rows and files that were removed */
export async function keepHouse(pool: Pool, kept: KeepDays = settings().keep): Promise<number> {
  const deadline = performance.now() + AT_MOST_MS;
  const isOver = (): boolean => performance.now() > deadline;
  return (
    (await removeOldEvents(pool, EVENT_HOURS, isOver)) +
    (await removeOldLines(pool, kept.logDays, isOver)) +
    (await removeOldAttempts(pool, kept.attemptDays, isOver)) +
    (await removeOldTasks((work) => transact(work, pool), kept.attemptDays, isOver)) +
    (await removeOldFindings(pool, kept.attemptDays, isOver)) +
    (await removeOldQuestions(pool, kept.attemptDays)) +
    (await ofSequences(pool, isOver, (sequence) => removeAsidesOf(pool, sequence, kept.asideDays))) +
    (await ofSequences(pool, isOver, (sequence) => removeKeptOf(sequence, kept.logDays)))
  );
}

/** @returns how many files were removed beside all sequences */
async function ofSequences(
  pool: Pool,
  isOver: () => boolean,
  remove: (sequence: SequenceRow) => Promise<number>,
): Promise<number> {
  let removed = 0;
  for (const sequence of await listSequences(pool)) {
    if (isOver()) break;
    removed += await remove(sequence).catch((error: unknown) => {
      if (isDatabaseAway(error)) throw error;
      // A share that is away now keeps what it has until the next go.
      return 0;
    });
  }
  return removed;
}

/** Replaced files whose successor is whole. When they were replaced is when the system last changed their names. */
async function removeAsidesOf(pool: Pool, sequence: SequenceRow, days: number): Promise<number> {
  const folder = asideFolderOf(sequence);
  return (
    (await removeAsidesIn(pool, sequence, folder, days)) +
    (await removeAsidesIn(pool, sequence, acceptedFolder(folder), days))
  );
}

async function removeAsidesIn(
  pool: Pool,
  sequence: SequenceRow,
  folder: string,
  days: number,
): Promise<number> {
  const names = await asideNamesIn(folder);
  if (names.length === 0) return 0;
  const good = await goodFrames(pool, sequence.id);
  const frames = new Map(
    names.flatMap((name) => [...asideFiles([name])].map(([frame]) => [name, frame] as const)),
  );
  let removed = 0;
  for (const name of names) {
    const frame = frames.get(name);
    if (frame === undefined || !good.has(frame)) continue;
    const file = path.join(folder, name);
    const { ctimeMs } = await fs.stat(file);
    if (Date.now() - ctimeMs < days * DAY_MS) continue;
    await fs.rm(file, { force: true });
    removed++;
  }
  return removed;
}

/** Folders of files that programs left, by when something was put into them last. */
async function removeKeptOf(sequence: SequenceRow, days: number): Promise<number> {
  // They are a camera's, and stand beside its first pass.
  if (sequence.pass !== "beauty") return 0;
  const camera = keptFolder(versionPlace(sequence), sequence.camera);
  let removed = 0;
  for (const call of await fs.readdir(camera).catch(() => [])) {
    const folder = path.join(camera, call);
    const { ctimeMs } = await fs.stat(folder);
    if (Date.now() - ctimeMs < days * DAY_MS) continue;
    await fs.rm(folder, { recursive: true, force: true });
    removed++;
  }
  return removed;
}

/** Keeps house if it is time and nobody else has; never throws for a database or a share that is away. */
export async function keepHouseInTurn(pool: Pool): Promise<void> {
  try {
    if (await takeTurn(pool, EVERY_MINUTES)) await keepHouse(pool);
  } catch (error) {
    if (!isDatabaseAway(error)) throw error;
  }
}

/** How often a process looks whether it is its turn. */
const LOOK_MS = 10 * 60_000;

/** For a process that lives long. @returns ends it */
export function keepHouseByTheClock(pool: () => Pool, say: (error: unknown) => void): () => void {
  const timer = setInterval(() => void keepHouseInTurn(pool()).catch(say), LOOK_MS);
  // Nobody waits for it at the end.
  timer.unref();
  return () => clearInterval(timer);
}
