/** Findings: what is wrong with a frame, found by a check, by its node, or by a person. */
import { type Db, rows, valuesList, write } from "../db/rows";

export type FindingSource = "check" | "node" | "person";

export interface FindingRow {
  readonly id: number;
  readonly frame: number;
  readonly source: FindingSource;
  readonly code: string;
  readonly text: string;
  readonly state: "open" | "dismissed" | "fixed";
  readonly createdAt: Date;
  readonly closedAt: Date | null;
}

const COLUMNS = "id, frame, source, code, text, state, created_at AS createdAt, closed_at AS closedAt";
/** More than this is not read by a person; the band shows the rest. */
const RECENT = 500;

export const openFindings = (db: Db, sequenceId: number): Promise<FindingRow[]> => rows<FindingRow>(db, `SELECT ${COLUMNS} FROM finding WHERE sequence_id = ? AND state = 'open' ORDER BY frame, id`, [sequenceId]);

export const closedFindings = (db: Db, sequenceId: number): Promise<FindingRow[]> => rows<FindingRow>(db, `SELECT ${COLUMNS} FROM finding WHERE sequence_id = ? AND state <> 'open' ORDER BY closed_at DESC, id DESC LIMIT ${RECENT}`, [sequenceId]);

export async function insertFindings(db: Db, sequenceId: number, source: FindingSource, code: string, found: readonly { readonly frame: number; readonly text: string }[]): Promise<void> {
  if (found.length === 0) return;
  const values = valuesList(found.map(({ frame, text }) => [sequenceId, frame, source, code, text.slice(0, 500)]));
  await write(db, `INSERT INTO finding (sequence_id, frame, source, code, text) VALUES ${values.sql}`, values.params);
}

/** The frame has a new file: whatever was open about the old one is settled. */
export async function closeFindingsAsFixed(db: Db, sequenceId: number, frame: number): Promise<number> {
  return (await write(db, "UPDATE finding SET state = 'fixed', closed_at = NOW(3) WHERE sequence_id = ? AND frame = ? AND state = 'open'", [sequenceId, frame])).matched;
}

/** The check no longer finds what a check found. */
export async function closeCheckFindings(db: Db, sequenceId: number, frame: number): Promise<number> {
  return (await write(db, "UPDATE finding SET state = 'fixed', closed_at = NOW(3) WHERE sequence_id = ? AND frame = ? AND state = 'open' AND source = 'check'", [sequenceId, frame])).matched;
}

/** A person takes flags back, on frames first..last. What a check finds stays until the file is whole. */
export async function dismissFindings(db: Db, sequenceId: number, first: number, last: number): Promise<number> {
  return (await write(db, "UPDATE finding SET state = 'dismissed', closed_at = NOW(3) WHERE sequence_id = ? AND frame BETWEEN ? AND ? AND state = 'open' AND source <> 'check'", [sequenceId, first, last])).matched;
}
