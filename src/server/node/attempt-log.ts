/**
 * What is said of an attempt: kept in the database for the pages, and in a file beside the frames for whoever
 * has only the folder.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { isDatabaseAway } from "../db/away";
import { agoOf, type AttemptLines, type LogLine } from "./attempt-lines";
import type { Pool } from "../db/pool";
import { nodeLogFile } from "../files/layout";
import { appendLines } from "../store/attempt-lines";
import type { LeasedFrame } from "../queue/leased-frame";

/** Bytes of a file of lines; with the one before it, twice as much. */
const LONGEST_FILE = 8_000_000;

/**
 * Says lines now, if the database can hear them: what is said of a frame never decides over the frame. The
 * file beside the frames has them in any case.
 * @param versionFolder null while it is not known: then only the database hears it
 */
export async function sayOfAttempt(
  pool: Pool,
  lease: LeasedFrame,
  node: string,
  versionFolder: string | null,
  lines: readonly LogLine[],
): Promise<void> {
  await tellDatabase(pool, lease, lines);
  await sayInFolder(lease, node, versionFolder, lines);
}

/** If it can hear it. */
const tellDatabase = (pool: Pool, lease: LeasedFrame, lines: readonly LogLine[]): Promise<void> =>
  appendLines(pool, lease.attemptId, withAgo(lines)).catch((error: unknown) => {
    if (!isDatabaseAway(error)) throw error;
  });

/** Lines as the database takes them. */
export const withAgo = (
  lines: readonly LogLine[],
): { readonly level: LogLine["level"]; readonly text: string; readonly agoMs: number }[] =>
  lines.map((line) => ({ level: line.level, text: line.text, agoMs: agoOf(line) }));

/** Says all that was said while a frame was made: the database what is kept of it, the file the rest of it. */
export async function sayAll(
  pool: Pool,
  lease: LeasedFrame,
  node: string,
  versionFolder: string | null,
  said: AttemptLines,
): Promise<void> {
  await tellDatabase(pool, lease, said.kept);
  await sayInFolder(lease, node, versionFolder, await said.unsaid());
}

/** The same for lines that the database has, or gets with what they are about. */
export async function sayInFolder(
  lease: LeasedFrame,
  node: string,
  versionFolder: string | null,
  lines: readonly LogLine[],
): Promise<void> {
  if (versionFolder === null || lines.length === 0) return;
  const text = lines
    .map(
      (line) =>
        `${new Date(Date.now() - agoOf(line)).toISOString()} run ${lease.runId} ${lease.camera} frame ${lease.frame} attempt ${lease.attemptId} ${line.level}: ${line.text.replaceAll("\n", " ")}\n`,
    )
    .join("");
  await append(nodeLogFile(versionFolder, node), text).catch(() => {
    // A full disk or a share that is gone must not fail the frame a second time: the database has the lines.
  });
}

async function append(file: string, text: string): Promise<void> {
  // Only the last folder is made: below the place of a share that is gone nothing must appear.
  await fs.mkdir(path.dirname(file)).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EEXIST") throw error;
  });
  const { size } = await fs.stat(file).catch(() => ({ size: 0 }));
  // It rolls over: what was said before stays until the next one is as long.
  if (size > LONGEST_FILE) await fs.rename(file, `${file}.before`);
  await fs.appendFile(file, text);
}
