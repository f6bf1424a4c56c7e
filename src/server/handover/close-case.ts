/** A case is closed by its report: what was kept of the files before goes with it, at once. */
import fs from "node:fs/promises";
import path from "node:path";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { acceptedFolder } from "../files/layout";
import { asideFiles, asideFolderOf, asideNames, asideNamesIn, asidesByFrame } from "../folder/aside";
import { goodFrames } from "../store/housekeeping";
import { requireSequence, type SequenceRow } from "../store/shots";

/** @throws TallyError `case-open` while frames wait to be accepted: of those the file before is wanted */
export async function requireClosable(sequence: SequenceRow): Promise<void> {
  const waiting = sequence.source === null ? asideFiles(await asideNames(sequence)) : new Map();
  if (waiting.size > 0)
    throw new TallyError("case-open", { frames: shorten(formatPhrase(setOf([...waiting.keys()]))) });
}

/**
 * Files whose successors were accepted, absolute: those that a report which is begun now tells of. Where the successor is
 * gone or damaged by now, the file before is the only one, and stays.
 */
export async function acceptedFiles(sequenceId: number): Promise<readonly string[]> {
  const folder = acceptedFolder(asideFolderOf(await requireSequence(sequenceId)));
  const good = await goodFrames(pool(), sequenceId);
  return [...asidesByFrame(await asideNamesIn(folder))].flatMap(([frame, names]) =>
    good.has(frame) ? names.map((name) => path.join(folder, name)) : [],
  );
}

export async function removeFiles(files: readonly string[]): Promise<void> {
  for (const file of files) await fs.rm(file, { force: true });
}
