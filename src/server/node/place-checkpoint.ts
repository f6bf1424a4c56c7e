/**
 * Puts saved samples in their place: under the lease, so that a node that lost its frame cannot put
 * old samples over new ones, and with the previous file there until the new one is.
 */
import fs from "node:fs";
import path from "node:path";
import { type Pool, transact, type Tx } from "../db/pool";
import type { SavedCheckpoint } from "../engines/engine";
import { holdLease, type Lease } from "../queue/lease";
import { appendFrameEvent } from "../store/events";
import { deleteCheckpoint, saveCheckpointRow } from "../store/checkpoints";
import { checkpointBefore, checkpointFile, temporaryOf } from "../files/layout";

/** @throws LeaseLost where the frame is somebody else's by now */
export async function placeCheckpoint(
  pool: Pool,
  lease: Lease,
  folder: string,
  saved: SavedCheckpoint,
): Promise<void> {
  const file = checkpointFile(folder, lease.frame);
  const before = checkpointBefore(folder, lease.frame);
  await transact(async (tx) => {
    await holdLease(tx, lease);
    // A transaction that is run again finds the file in its place.
    if (fs.existsSync(saved.temporary)) {
      if (fs.existsSync(file)) fs.renameSync(file, before);
      fs.renameSync(saved.temporary, file);
      fs.rmSync(before, { force: true });
    }
    await saveCheckpointRow(
      tx,
      lease.sequenceId,
      lease.frame,
      { bytes: saved.bytes, modifiedMs: fs.statSync(file).mtimeMs },
      saved.header,
    );
    await appendFrameEvent(tx, "task", lease, lease.frame);
  }, pool);
}

/** The frame is good and nobody wants to refine it. Inside the transaction that holds the lease. */
export async function dropCheckpoint(tx: Tx, lease: Lease, folder: string): Promise<void> {
  for (const file of [checkpointFile(folder, lease.frame), checkpointBefore(folder, lease.frame)])
    fs.rmSync(file, { force: true });
  await deleteCheckpoint(tx, lease.sequenceId, lease.frame);
}

/** Temporary files of attempts whose node vanished while it saved samples. */
export function clearLeftovers(folder: string, frame: number, attempts: readonly number[]): void {
  if (attempts.length === 0 || !fs.existsSync(folder)) return;
  const starts = attempts.map(
    (attempt) => `${path.basename(temporaryOf(checkpointFile(folder, frame), attempt))}-`,
  );
  for (const name of fs.readdirSync(folder))
    if (starts.some((start) => name.startsWith(start))) fs.rmSync(path.join(folder, name), { force: true });
}
