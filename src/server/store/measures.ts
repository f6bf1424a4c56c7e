/** What was measured of pictures, and which are still to be: by node, in leases of a few. */
import { checkMeasured, type MeasuredFacts } from "@/contract/measured";
import type { MeasuredPicture, Measures } from "@/core/image/measure-picture";
import type { Sketch } from "@/core/image/sketch";
import type { MeasuredFrame } from "@/core/odd/odd";
import type { Tx } from "../db/pool";
import { type Db, fromJson, marks, row, rows, write } from "../db/rows";

/** Columns, rows, then the blocks in 16 bits, the low byte first. */
function packSketch({ columns, rows: down, values }: Sketch): Buffer {
  const packed = Buffer.alloc(2 + values.length * 2);
  packed.writeUInt8(columns, 0);
  packed.writeUInt8(down, 1);
  for (const [i, value] of values.entries()) packed.writeUInt16LE(value, 2 + i * 2);
  return packed;
}

/** Null where it is none: three values for each block. */
function unpackSketch(packed: Buffer): Sketch | null {
  if (packed.length < 2) return null;
  const [columns, down] = [packed.readUInt8(0), packed.readUInt8(1)];
  const count = columns * down * 3;
  if (count === 0 || packed.length !== 2 + count * 2) return null;
  const values = new Uint16Array(count);
  for (let i = 0; i < count; i++) values[i] = packed.readUInt16LE(2 + i * 2);
  return { columns, rows: down, values };
}

/** A file that is to be measured. */
export interface MeasureTask {
  readonly sequenceId: number;
  readonly frame: number;
  /** SHA-256 of the file as it was last seen. */
  readonly content: string;
}

/**
 * Asks for a file to be measured, unless that very one was. With the statement that writes what is known of it: nothing
 * that is whole is forgotten.
 */
export async function askToMeasure(db: Db, { sequenceId, frame, content }: MeasureTask): Promise<void> {
  await write(
    db,
    `INSERT INTO measure_task (sequence_id, frame, content)
      SELECT ?, ?, ?
      FROM DUAL
      WHERE NOT EXISTS (SELECT 1 FROM frame_measure WHERE sequence_id = ? AND frame = ? AND content = ?)
      ON DUPLICATE KEY UPDATE content = VALUE(content), token = NULL, lease_until = NULL`,
    [sequenceId, frame, content, sequenceId, frame, content],
  );
}

/** Asks for every whole file that is not measured. */
export async function askToMeasureUnmeasured(db: Db): Promise<void> {
  await write(
    db,
    `INSERT IGNORE INTO measure_task (sequence_id, frame, content)
      SELECT f.sequence_id, f.frame, f.content
      FROM frame_file f
      WHERE f.verdict = 'good' AND f.content IS NOT NULL AND NOT EXISTS (
        SELECT 1 FROM frame_measure m
        WHERE m.sequence_id = f.sequence_id AND m.frame = f.frame AND m.content = f.content)`,
  );
}

/** Sequences that have files to measure which nobody is at. */
export const sequencesToMeasure = async (db: Db): Promise<readonly number[]> =>
  (
    await rows<{ id: number }>(
      db,
      `SELECT DISTINCT sequence_id AS id
        FROM measure_task
        WHERE lease_until IS NULL OR lease_until < NOW(6)
        ORDER BY sequence_id`,
    )
  ).map(({ id }) => id);

/** Takes the next of a sequence, those that others take at this moment left out. */
export async function leaseMeasuring(
  tx: Tx,
  sequenceId: number,
  token: string,
  seconds: number,
  most: number,
): Promise<readonly MeasureTask[]> {
  const found = await rows<MeasureTask>(
    tx,
    `SELECT sequence_id AS sequenceId, frame, content
      FROM measure_task
      WHERE sequence_id = ? AND (lease_until IS NULL OR lease_until < NOW(6))
      ORDER BY frame
      LIMIT ?
      FOR UPDATE SKIP LOCKED`,
    [sequenceId, most],
  );
  const frames = found.map(({ frame }) => frame);
  await write(
    tx,
    `UPDATE measure_task
      SET token = ?, lease_until = NOW(6) + INTERVAL ? SECOND
      WHERE sequence_id = ? AND frame IN ${marks(frames)}`,
    [token, seconds, sequenceId, ...frames],
  );
  return found;
}

/** The task is over, whatever came of it. @returns false where it is somebody else's by now, or of another file */
export const endMeasuring = async (tx: Tx, task: MeasureTask, token: string): Promise<boolean> =>
  (
    await write(
      tx,
      "DELETE FROM measure_task WHERE sequence_id = ? AND frame = ? AND content = ? AND token = ?",
      [task.sequenceId, task.frame, task.content, token],
    )
  ).matched > 0;

/** @param measured null: a picture of a kind that is not shown */
export async function saveMeasured(
  tx: Tx,
  { sequenceId, frame, content }: MeasureTask,
  measured: MeasuredPicture | null,
): Promise<void> {
  const facts: MeasuredFacts | null =
    measured === null
      ? null
      : {
          width: measured.width,
          height: measured.height,
          measures: measured.measures,
          hotRegion: measured.hotRegion,
          pixels: measured.pixels,
        };
  await write(
    tx,
    "REPLACE INTO frame_measure (sequence_id, frame, content, facts, sketch) VALUES (?, ?, ?, ?, ?)",
    [
      sequenceId,
      frame,
      content,
      facts === null ? null : JSON.stringify(facts),
      measured === null ? null : packSketch(measured.sketch),
    ],
  );
}

/** How far measuring is. */
export interface MeasuringState {
  /** Files of which everything is known that can be. */
  readonly measured: number;
  /** Of these, kinds that are not shown. */
  readonly unshown: number;
  readonly waiting: number;
  /** Changes whenever one of them does. */
  readonly stamp: string;
}
export async function measuringState(db: Db, sequenceId: number): Promise<MeasuringState> {
  const found = (await row<Omit<MeasuringState, "stamp"> & { last: string | null }>(
    db,
    `SELECT COUNT(*) AS measured, CAST(COALESCE(SUM(m.facts IS NULL), 0) AS SIGNED) AS unshown,
        (SELECT COUNT(*) FROM measure_task t WHERE t.sequence_id = ?) AS waiting,
        CAST(MAX(m.measured_at) AS CHAR) AS last
      FROM frame_measure m
      JOIN frame_file f ON f.sequence_id = m.sequence_id AND f.frame = m.frame AND f.content = m.content
      WHERE m.sequence_id = ?`,
    [sequenceId, sequenceId],
  ))!;
  const { last, ...state } = found;
  return { ...state, stamp: `${state.measured} ${last}` };
}

/** Of the files that are there now, by frame. */
export async function measuredFrames(db: Db, sequenceId: number): Promise<readonly MeasuredFrame[]> {
  const found = await rows<{
    frame: number;
    content: string;
    facts: unknown;
    sketch: Buffer | null;
    bytes: number;
    seconds: number | null;
    samples: number | null;
    modifiedMs: number;
  }>(
    db,
    `SELECT m.frame, m.content, m.facts, m.sketch, f.bytes, f.seconds, f.samples, f.modified_ms AS modifiedMs
      FROM frame_measure m
      JOIN frame_file f ON f.sequence_id = m.sequence_id AND f.frame = m.frame AND f.content = m.content
      WHERE m.sequence_id = ? AND m.facts IS NOT NULL
      ORDER BY m.frame`,
    [sequenceId],
  );
  return found.flatMap(({ facts, sketch: packed, ...of }) => {
    const checked = checkMeasured(fromJson(facts));
    const sketch = packed === null ? null : unpackSketch(packed);
    return checked.ok && sketch !== null ? [{ ...of, ...checked.value, sketch }] : [];
  });
}

/** Of the file that is there now; null before it was measured, and of what cannot be shown. */
export async function measuresOfFrame(db: Db, sequenceId: number, frame: number): Promise<Measures | null> {
  const found = await row<{ facts: unknown }>(
    db,
    `SELECT m.facts
      FROM frame_measure m
      JOIN frame_file f ON f.sequence_id = m.sequence_id AND f.frame = m.frame AND f.content = m.content
      WHERE m.sequence_id = ? AND m.frame = ? AND m.facts IS NOT NULL`,
    [sequenceId, frame],
  );
  const checked = found === null ? null : checkMeasured(fromJson(found.facts));
  return checked?.ok === true ? checked.value.measures : null;
}
