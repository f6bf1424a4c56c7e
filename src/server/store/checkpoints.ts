/** Saved samples of frames, as their files say. Kept by the beauty sequence of the camera: the samples serve all passes. */
import type { CheckpointHeader } from "@/contract/checkpoint";
import type { Json } from "@/core/plan/canonical";
import type { HeldSamples } from "@/core/plan/checkpoint";
import { type Db, fromJson, row, rows, write } from "../db/rows";

export interface CheckpointRow extends HeldSamples {
  readonly frame: number;
  readonly bytes: number;
  readonly modifiedMs: number;
  readonly samples: number;
  readonly share: number;
  readonly seconds: number;
  readonly node: string;
}

type Raw = Omit<CheckpointRow, "look" | "effort" | "layers" | "cover"> & { readonly look: unknown; readonly effort: unknown; readonly layers: number; readonly cover: number };
const COLUMNS = "frame, bytes, modified_ms AS modifiedMs, samples, share, seconds, node, look, effort, layers, cover";
type Settings = { readonly [name: string]: Json };
const read = (r: Raw): CheckpointRow => ({ ...r, look: fromJson<Settings>(r.look), effort: fromJson<Settings>(r.effort), layers: r.layers === 1, cover: r.cover === 1 });

export const listCheckpoints = async (db: Db, leadId: number): Promise<CheckpointRow[]> => (await rows<Raw>(db, `SELECT ${COLUMNS} FROM checkpoint WHERE sequence_id = ? ORDER BY frame`, [leadId])).map(read);

export async function lockCheckpoint(db: Db, leadId: number, frame: number): Promise<CheckpointRow | null> {
  const found = await row<Raw>(db, `SELECT ${COLUMNS} FROM checkpoint WHERE sequence_id = ? AND frame = ? FOR UPDATE`, [leadId, frame]);
  return found === null ? null : read(found);
}

export async function saveCheckpointRow(db: Db, leadId: number, frame: number, file: { readonly bytes: number; readonly modifiedMs: number }, h: CheckpointHeader): Promise<void> {
  await write(db, "REPLACE INTO checkpoint (sequence_id, frame, bytes, modified_ms, samples, share, seconds, node, look, effort, layers, cover) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
    [leadId, frame, file.bytes, file.modifiedMs, h.samples, h.share, h.seconds, h.node, JSON.stringify(h.look), JSON.stringify(h.effort), h.layers ? 1 : 0, h.cover ? 1 : 0]);
}

export async function deleteCheckpoint(db: Db, leadId: number, frame: number): Promise<void> {
  await write(db, "DELETE FROM checkpoint WHERE sequence_id = ? AND frame = ?", [leadId, frame]);
}
