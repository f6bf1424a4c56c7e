/**
 * Saved samples of frames, as their files say. Kept by the beauty sequence of the camera: the samples serve
 * all passes.
 */
import type { CheckpointHeader } from "@/contract/checkpoint";
import type { Json } from "@/core/plan/canonical";
import type { SavedSamples } from "@/core/run/checkpoint";
import { type Db, fromJson, marks, row, rows, write } from "../db/rows";

export interface CheckpointRow {
  /** Number of the frame's file. */
  readonly frame: number;
  /** Of the file of samples. */
  readonly bytes: number;
  /** As the file system tells it: with the length it says whether the file is the one that was read. */
  readonly modifiedMs: number;
  /** A pixel. */
  readonly samples: number;
  /** Of what was asked, 0 to 1. */
  readonly share: number;
  /** Render seconds that went into it, over all attempts. */
  readonly seconds: number;
  /** Name of the node that saved it last. */
  readonly node: string;
}

const COLUMNS = "frame, bytes, modified_ms AS modifiedMs, samples, share, seconds, node";

/** Saved samples of all frames of a camera, by frame. */
export const listCheckpoints = (db: Db, leadId: number): Promise<CheckpointRow[]> =>
  rows<CheckpointRow>(db, `SELECT ${COLUMNS} FROM checkpoint WHERE sequence_id = ? ORDER BY frame`, [leadId]);

/** The same of some frames: what a page asks after news of them. */
export const checkpointsOfFrames = (
  db: Db,
  leadId: number,
  frames: readonly number[],
): Promise<CheckpointRow[]> =>
  rows<CheckpointRow>(
    db,
    `SELECT ${COLUMNS}
      FROM checkpoint
      WHERE sequence_id = ? AND frame IN ${marks(frames)}
      ORDER BY frame`,
    [leadId, ...frames],
  );

/**
 * Reads and locks the row of a frame, so that a node which saves and a watch which looks do not write over
 * one another.
 */
export const lockCheckpoint = (db: Db, leadId: number, frame: number): Promise<CheckpointRow | null> =>
  row<CheckpointRow>(db, `SELECT ${COLUMNS} FROM checkpoint WHERE sequence_id = ? AND frame = ? FOR UPDATE`, [
    leadId,
    frame,
  ]);

/** Whether more render seconds are saved of a frame than that. */
export const isSavedBeyond = async (
  db: Db,
  leadId: number,
  frame: number,
  seconds: number,
): Promise<boolean> =>
  (await row(db, "SELECT frame FROM checkpoint WHERE sequence_id = ? AND frame = ? AND seconds > ?", [
    leadId,
    frame,
    seconds,
  ])) !== null;

type Settings = { readonly [name: string]: Json };

/** What the saved samples of a camera's frames were made from. */
export async function listSavedSettings(
  db: Db,
  leadId: number,
): Promise<(SavedSamples & { readonly frame: number })[]> {
  const found = await rows<{ frame: number; look: unknown; effort: unknown; layers: number; cover: number }>(
    db,
    `SELECT frame, look, effort, layers, cover
      FROM checkpoint
      WHERE sequence_id = ?
      ORDER BY frame`,
    [leadId],
  );
  return found.map((r) => ({
    frame: r.frame,
    look: fromJson<Settings>(r.look),
    effort: fromJson<Settings>(r.effort),
    layers: r.layers === 1,
    cover: r.cover === 1,
  }));
}

/**
 * Notes a file of saved samples as its header describes it; the row of an earlier one of that frame is
 * replaced.
 */
export async function saveCheckpointRow(
  db: Db,
  leadId: number,
  frame: number,
  file: { readonly bytes: number; readonly modifiedMs: number },
  h: CheckpointHeader,
): Promise<void> {
  await write(
    db,
    `REPLACE INTO checkpoint (
        sequence_id, frame, bytes, modified_ms, samples, share, seconds, node, look, effort, layers,
          cover
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      leadId,
      frame,
      file.bytes,
      file.modifiedMs,
      h.samples,
      h.share,
      h.seconds,
      h.node,
      JSON.stringify(h.look),
      JSON.stringify(h.effort),
      h.layers ? 1 : 0,
      h.cover ? 1 : 0,
    ],
  );
}

/**
 * Forgets saved samples of a frame. The file is the caller's: it goes first, or a crash would leave a file
 * that nothing knows.
 */
export async function deleteCheckpoint(db: Db, leadId: number, frame: number): Promise<void> {
  await write(db, "DELETE FROM checkpoint WHERE sequence_id = ? AND frame = ?", [leadId, frame]);
}
