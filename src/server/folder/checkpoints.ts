/** Brings what the database knows of saved samples in line with the folder, which is the truth. */
import fs from "node:fs/promises";
import { pool, transact } from "../db/pool";
import { readHeaderOf } from "../files/checkpoint-file";
import { appendEvent } from "../store/events";
import { deleteCheckpoint, listCheckpoints, lockCheckpoint, saveCheckpointRow } from "../store/checkpoints";
import type { SequenceRow } from "../store/shots";
import { TallyError } from "../errors";
import { whyOutOfSight } from "../files/project-mark";
import {
  versionPlace,
  checkpointBefore,
  checkpointFile,
  checkpointFolder,
  frameOfCheckpoint,
} from "../files/layout";

/** What is enough to know a file again without reading it. */
interface Place {
  readonly bytes: number;
  /** Milliseconds since 1970. */
  readonly modifiedMs: number;
}

/** Null where there is no file of that name. @throws where that cannot be told just now */
const placeOf = async (file: string): Promise<Place | null> => {
  const stat = await fs.stat(file).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "ENOENT") throw error;
    return null;
  });
  return stat?.isFile() === true ? { bytes: stat.size, modifiedMs: stat.mtimeMs } : null;
};

/** Times are told with different exactness by different file systems. */
const isSame = (known: Place | null | undefined, seen: Place): boolean =>
  known != null && known.bytes === seen.bytes && Math.abs(known.modifiedMs - seen.modifiedMs) < 1;

/** One for all passes of a camera: samples serve them all. */
const checkpointFolderOf = (sequence: SequenceRow): string =>
  checkpointFolder(versionPlace(sequence), sequence.camera);

/** @param lead beauty sequence of a camera */
export async function noticeCheckpoints(lead: SequenceRow): Promise<void> {
  const folder = checkpointFolderOf(lead);
  const names = await fs.readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "ENOENT") throw new TallyError("folder-unreadable", { folder, errno: error.code });
    return [];
  });
  const known = new Map((await listCheckpoints(pool(), lead.id)).map((c) => [c.frame, c]));
  if (names.length === 0 && known.size === 0) return;
  const frames = new Set([...known.keys(), ...names.flatMap((name) => frameOfCheckpoint(name) ?? [])]);
  let hasChanged = false;
  for (const frame of frames) {
    const file = checkpointFile(folder, frame);
    const seen = await placeOf(file);
    if (seen === null ? !known.has(frame) : isSame(known.get(frame), seen)) continue;
    const header = seen === null ? null : await readHeaderOf(file).catch(() => null);
    hasChanged =
      (await transact(async (tx) => {
        // A node may be saving this frame: look again under the lock.
        const now = await lockCheckpoint(tx, lead.id, frame);
        const fresh = await placeOf(file);
        if (fresh === null ? now === null : isSame(now, fresh)) return false;
        // Asked behind it: a share that went away in between has not lost the file.
        if (fresh === null && (await whyOutOfSight(lead)) !== null) return false;
        if (fresh === null) await deleteCheckpoint(tx, lead.id, frame);
        else if (
          header !== null &&
          header.camera === lead.camera &&
          header.frame === frame &&
          isSame(seen, fresh)
        )
          await saveCheckpointRow(tx, lead.id, frame, fresh, header);
        else if (now === null) return false;
        else await deleteCheckpoint(tx, lead.id, frame);
        return true;
      })) || hasChanged;
  }
  if (hasChanged) await transact((tx) => appendEvent(tx, "files", lead.id));
}

/** Files of saved samples of a frame, the newest first. */
export const checkpointFilesOf = (lead: SequenceRow, frame: number): readonly string[] => {
  const folder = checkpointFolderOf(lead);
  return [checkpointFile(folder, frame), checkpointBefore(folder, frame)];
};
