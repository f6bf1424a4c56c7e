/**
 * Findings: what is wrong with a frame, found by a check, by its node, or by a person.
 * A finding is open until its frame has a new file (`fixed`) or somebody takes it back (`dismissed`); a
 * closed one is never opened again, the same trouble is a new row. A check's finding stands until a check
 * finds the file whole. What a person says of an odd one counts for the file that was judged, as a flag does.
 */
import type { FindingPlace } from "@/contract/sequence-view";
import type { Who } from "@/contract/who";
import type { OddVerdict } from "@/core/odd/judged";
import { noteForWebhooks } from "./webhooks";
import { type Db, marks, rows, valuesList, write } from "../db/rows";

/** Odd: a person judged what the measures say. */
export type FindingSource = "check" | "node" | "person" | "odd";

/** What people say of a picture: it counts for that picture, whoever or whatever pointed it out. */
const OF_PEOPLE: readonly FindingSource[] = ["person", "odd"];
export const isOfPeople = (source: FindingSource): boolean => OF_PEOPLE.includes(source);

export interface FindingRow {
  readonly id: number;
  /** Number of the frame's file. */
  readonly frame: number;
  /** Who found it. */
  readonly source: FindingSource;
  /** The person that flagged it; null: a check or a node, or nobody said. */
  readonly who: Who;
  /** Kind of the finding. */
  readonly code: string;
  /** What was found, or the reason that a person gave. */
  readonly text: string;
  readonly state: "open" | "dismissed" | "fixed";
  readonly createdAt: Date;
  /** Null while it is open. */
  readonly closedAt: Date | null;
  /** The person that dismissed it. */
  readonly closedWho: Who;
  /** The reason of who dismissed it; null: none was given. */
  readonly why: string | null;
  /** Null, all four: the whole picture. Parts of its width and height, from the left and the top. */
  readonly placeLeft: number | null;
  readonly placeTop: number | null;
  readonly placeWidth: number | null;
  readonly placeHeight: number | null;
}

/** Where in the picture it is; null: all of it. */
export const placeOfFinding = ({
  placeLeft,
  placeTop,
  placeWidth,
  placeHeight,
}: FindingRow): FindingPlace | null =>
  placeLeft === null || placeTop === null || placeWidth === null || placeHeight === null
    ? null
    : { left: placeLeft, top: placeTop, width: placeWidth, height: placeHeight };

const COLUMNS = `id, frame, source, who, code, text, state, created_at AS createdAt, closed_at AS closedAt,
      closed_who AS closedWho, why, place_left AS placeLeft, place_top AS placeTop, place_width AS placeWidth,
      place_height AS placeHeight`;
/** More than this is not read by a person; the band shows the rest. */
const RECENT = 500;
const LONGEST_TEXT = 500;

/** What is wrong with frames of a sequence now, by frame. */
export const openFindings = (db: Db, sequenceId: number): Promise<FindingRow[]> =>
  rows<FindingRow>(
    db,
    `SELECT ${COLUMNS}
      FROM finding
      WHERE sequence_id = ? AND state = 'open'
      ORDER BY frame, id`,
    [sequenceId],
  );

/** What was wrong and is no more, most lately closed first: who closed it, and why, stays readable. */
export const closedFindings = (db: Db, sequenceId: number): Promise<FindingRow[]> =>
  rows<FindingRow>(
    db,
    `SELECT ${COLUMNS}
      FROM finding
      WHERE sequence_id = ? AND state <> 'open'
      ORDER BY closed_at DESC, id DESC
      LIMIT ${RECENT}`,
    [sequenceId],
  );

/** Open findings of some frames: what a page asks after news of them. */
export const openFindingsOfFrames = (
  db: Db,
  sequenceId: number,
  frames: readonly number[],
): Promise<FindingRow[]> =>
  rows<FindingRow>(
    db,
    `SELECT ${COLUMNS}
      FROM finding
      WHERE sequence_id = ? AND state = 'open' AND frame IN ${marks(frames)}
      ORDER BY frame, id`,
    [sequenceId, ...frames],
  );

/** Closed findings of some frames, for the same. */
export const closedFindingsOfFrames = (
  db: Db,
  sequenceId: number,
  frames: readonly number[],
): Promise<FindingRow[]> =>
  rows<FindingRow>(
    db,
    `SELECT ${COLUMNS}
      FROM finding
      WHERE sequence_id = ? AND state <> 'open' AND frame IN ${marks(frames)}
      ORDER BY closed_at DESC, id DESC
      LIMIT ${RECENT}`,
    [sequenceId, ...frames],
  );

/**
 * Adds one finding a frame, all from one source with one code. A finding that is open already is not looked
 * for here: callers lock the frames' files first and add what is new.
 */
export async function insertFindings(
  db: Db,
  sequenceId: number,
  source: FindingSource,
  code: string,
  found: readonly {
    readonly frame: number;
    readonly text: string;
    /** Hash of the file that was judged; null where it is not known. */
    readonly content?: string | null;
    /** Where in the picture; null: all of it. */
    readonly place?: FindingPlace | null;
  }[],
  who: Who = null,
): Promise<void> {
  if (found.length === 0) return;
  const values = valuesList(
    found.map(({ frame, text, content = null, place = null }) => [
      sequenceId,
      frame,
      source,
      code,
      text.slice(0, LONGEST_TEXT),
      who,
      content,
      place?.left ?? null,
      place?.top ?? null,
      place?.width ?? null,
      place?.height ?? null,
    ]),
  );
  await write(
    db,
    `INSERT INTO finding (sequence_id, frame, source, code, text, who, content, place_left, place_top,
        place_width, place_height)
      VALUES ${values.sql}`,
    values.params,
  );
  await noteForWebhooks(
    db,
    "finding.opened",
    found.map(({ frame, text }) => ({
      ...{ sequence: sequenceId, frame, source, code },
      text: text.slice(0, LONGEST_TEXT),
    })),
  );
}

/**
 * The frame has a new file: whatever was open about the old one is settled.
 * @param keepsPersons what a person said stays: the new file shows the same picture
 */
export async function closeFindingsAsFixed(
  db: Db,
  sequenceId: number,
  frame: number,
  keepsPersons: boolean,
): Promise<number> {
  return (
    await write(
      db,
      `UPDATE finding
        SET state = 'fixed', closed_at = NOW(3)
        WHERE sequence_id = ? AND frame = ? AND state = 'open'
          AND NOT (? AND source IN ${marks(OF_PEOPLE)})`,
      [sequenceId, frame, keepsPersons, ...OF_PEOPLE],
    )
  ).matched;
}

/**
 * What was closed when the file came that is taken back now is open again, as new rows: the one before bears it. What a
 * check said, a check says again.
 */
export async function reopenFindingsOf(db: Db, sequenceId: number, frame: number): Promise<void> {
  await write(
    db,
    `INSERT INTO finding (sequence_id, frame, source, code, text, who, content, place_left, place_top, place_width,
        place_height)
      SELECT sequence_id, frame, source, code, text, who, content, place_left, place_top, place_width, place_height
      FROM finding f
      WHERE f.sequence_id = ? AND f.frame = ? AND f.state = 'fixed' AND f.source <> 'check'
        AND f.closed_at = (
          SELECT MAX(g.closed_at)
          FROM finding g
          WHERE g.sequence_id = f.sequence_id AND g.frame = f.frame AND g.state = 'fixed')`,
    [sequenceId, frame],
  );
}

/** Something else has put another whole file in the place of the one that a person judged. */
export async function closeFindingsOfOthers(
  db: Db,
  sequenceId: number,
  frame: number,
  content: string,
): Promise<void> {
  await write(
    db,
    `UPDATE finding
      SET state = 'fixed', closed_at = NOW(3)
      WHERE sequence_id = ? AND frame = ? AND state = 'open' AND source IN ${marks(OF_PEOPLE)}
        AND content IS NOT NULL AND content <> ?`,
    [sequenceId, frame, ...OF_PEOPLE, content],
  );
}

const SAME_PICTURE = "; rendered again, and the picture is the same";

/** Says beside what a person said that rendering again has changed nothing; once, however often it is done. */
export async function noteSamePicture(db: Db, sequenceId: number, frame: number): Promise<void> {
  await write(
    db,
    `UPDATE finding
      SET text = CONCAT(LEFT(text, ?), ?)
      WHERE sequence_id = ? AND frame = ? AND state = 'open' AND source IN ${marks(OF_PEOPLE)}
        AND text NOT LIKE ?`,
    [LONGEST_TEXT - SAME_PICTURE.length, SAME_PICTURE, sequenceId, frame, ...OF_PEOPLE, `%${SAME_PICTURE}`],
  );
}

/**
 * What a check finds now takes the place of what one found before. The same again stays the one finding that
 * it is: nothing was fixed. Inside a transaction that holds the file's row.
 */
export async function replaceCheckFinding(
  db: Db,
  sequenceId: number,
  frame: number,
  found: { readonly code: string; readonly text: string } | null,
): Promise<void> {
  const open = await rows<{ id: number; code: string; text: string }>(
    db,
    `SELECT id, code, text
      FROM finding
      WHERE sequence_id = ? AND frame = ? AND state = 'open' AND source = 'check'`,
    [sequenceId, frame],
  );
  const same =
    found === null
      ? undefined
      : open.find((f) => f.code === found.code && f.text === found.text.slice(0, LONGEST_TEXT));
  for (const { id } of open)
    if (id !== same?.id)
      await write(db, "UPDATE finding SET state = 'fixed', closed_at = NOW(3) WHERE id = ?", [id]);
  if (found !== null && same === undefined)
    await insertFindings(db, sequenceId, "check", found.code, [{ frame, text: found.text }]);
}

/** A person takes flags back, on frames first..last. What a check finds stays until the file is whole. */
export async function dismissFindings(
  db: Db,
  sequenceId: number,
  first: number,
  last: number,
  who: Who,
): Promise<number> {
  return (
    await write(
      db,
      `UPDATE finding
        SET state = 'dismissed', closed_at = NOW(3), closed_who = ?
        WHERE sequence_id = ? AND frame BETWEEN ? AND ? AND state = 'open' AND source <> 'check'`,
      [who, sequenceId, first, last],
    )
  ).matched;
}

/** What people said of odd ones, oldest first. */
export const oddVerdicts = (db: Db, sequenceId: number): Promise<OddVerdict[]> =>
  rows<OddVerdict>(
    db,
    `SELECT frame, code, content, state, COALESCE(closed_who, who) AS who, why
      FROM finding
      WHERE sequence_id = ? AND source = 'odd'
      ORDER BY id`,
    [sequenceId],
  );

/** What was said of this file's odd one is no more. Of files before it, all stays: it is their history. */
export async function forgetOddVerdict(
  db: Db,
  sequenceId: number,
  { frame, code, content }: { readonly frame: number; readonly code: string; readonly content: string },
): Promise<void> {
  await write(
    db,
    "DELETE FROM finding WHERE sequence_id = ? AND frame = ? AND source = 'odd' AND code = ? AND content = ?",
    [sequenceId, frame, code, content],
  );
}

/** Accepted, it is an open finding like a flag; dismissed, it is a closed one. */
export async function insertOddVerdict(
  db: Db,
  sequenceId: number,
  verdict: {
    readonly frame: number;
    readonly code: string;
    readonly content: string;
    readonly sentence: string;
    readonly place: FindingPlace | null;
    readonly isAccepted: boolean;
    readonly who: Who;
    readonly why: string | null;
  },
): Promise<void> {
  const { frame, code, content, sentence: text, place, isAccepted, who, why } = verdict;
  await insertFindings(db, sequenceId, "odd", code, [{ frame, text, content, place }], who);
  if (isAccepted) return;
  await write(
    db,
    `UPDATE finding
      SET state = 'dismissed', closed_at = NOW(3), closed_who = ?, why = ?
      WHERE sequence_id = ? AND frame = ? AND source = 'odd' AND code = ? AND content = ? AND state = 'open'`,
    [who, why, sequenceId, frame, code, content],
  );
}
