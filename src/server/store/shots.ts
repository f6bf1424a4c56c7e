/**
 * Shots, versions, plan revisions and sequences: what is planned and where it lies.
 * A version keeps the names under which it was opened, since its files bear them. A plan revision is written once. Numbers of versions and revisions are given under a lock,
 * so that two people who open one at the same moment get two.
 */
import { checkThresholds } from "@/contract/odd-view";
import type { Who } from "@/contract/who";
import type { Thresholds } from "@/core/odd/odd";
import type { Marker } from "@/core/plan/notes";
import type { ShotSound } from "@/core/sound/shot-sound";
import {
  type VersionKey,
  fromStoredPlan,
  type NamedAs,
  type Plan,
  type Purpose,
  type ReadPlan,
  readPlan,
} from "@/core/plan/plan";
import type { Pass } from "@/core/plan/passes";
import type { VersionStatus } from "@/core/plan/version-status";
import type { WatchedPlace } from "@/core/plan/watched";
import { type Db, fromJson, row, rows, write, marks } from "../db/rows";
import { pool, type Tx } from "../db/pool";
import { TallyError } from "../errors";
import { leadsAmong } from "@/core/run/run-tasks";
import { listAllProjects, type ProjectRow } from "./projects";

export interface ShotRow {
  readonly id: number;
  readonly projectId: number;
  /** Unique within its project. */
  readonly code: string;
  readonly title: string;
  /** Of the time line. */
  readonly firstFrame: number;
  /** Inclusive. */
  readonly lastFrame: number;
  /** Stretches with a name; their ends are exclusive. */
  readonly markers: readonly Marker[];
  /** Null: it has none. */
  readonly sound: ShotSound | null;
  readonly isArchived: boolean;
  /** How far off is odd; null: as is usual. */
  readonly thresholds: Thresholds | null;
}

export interface RevisionRow {
  readonly id: number;
  readonly versionId: number;
  /** From 1 in each version. */
  readonly number: number;
  readonly plan: Plan;
  /** The person that saved it. */
  readonly who: Who;
  readonly savedAt: Date;
}

export interface VersionRow extends NamedAs {
  readonly id: number;
  readonly shotId: number;
  /** From 1, finals and roughs apart. */
  readonly number: number;
  /** `rough` never goes into the cut. */
  readonly purpose: Purpose;
  /** One of several looks may be chosen, then the others are retired. */
  readonly status: VersionStatus;
  /** Plan revision that a rough version was made from. */
  readonly fromRevisionId: number | null;
}

/** A sequence with all that names its place. */
export interface SequenceRow extends NamedAs {
  readonly id: number;
  /** As the scene calls it. */
  readonly camera: string;
  readonly pass: Pass;
  readonly versionId: number;
  /** Its number. */
  readonly version: number;
  readonly purpose: Purpose;
  readonly shotId: number;
  /** Code of the shot, as it is now. */
  readonly shot: string;
  /** The project's name in addresses, as it is now. */
  readonly project: string;
  /** Name of the storage root. */
  readonly root: string;
  /** Of the project, relative to the root. */
  readonly folder: string;
  /** Where its files lie, when something else makes them; null: in its own place below the project's folder. */
  readonly source: WatchedPlace | null;
}

const SHOT = `SELECT id, project_id, code, title, first_frame, last_frame, markers, sound,
    archived_at IS NOT NULL AS is_archived, thresholds
  FROM shot`;
interface RawShot {
  id: number;
  project_id: number;
  code: string;
  title: string;
  first_frame: number;
  last_frame: number;
  markers: unknown;
  sound: unknown;
  is_archived: number;
  thresholds: unknown;
}
/** What does not fit, out of a record that somebody changed, is as usual. */
function readThresholds(kept: unknown): Thresholds | null {
  if (kept === null) return null;
  const checked = checkThresholds(fromJson(kept));
  return checked.ok ? checked.value : null;
}
const readShot = (r: RawShot): ShotRow => ({
  id: r.id,
  projectId: r.project_id,
  code: r.code,
  title: r.title,
  firstFrame: r.first_frame,
  lastFrame: r.last_frame,
  markers: fromJson(r.markers),
  sound: r.sound === null ? null : fromJson<ShotSound>(r.sound),
  isArchived: r.is_archived === 1,
  thresholds: readThresholds(r.thresholds),
});

const REVISION = "SELECT e.id, e.version_id, e.number, e.plan, e.who, e.created_at FROM plan_revision e";
interface RawRevision {
  id: number;
  version_id: number;
  number: number;
  plan: unknown;
  who: Who;
  created_at: Date;
}
const readRevision = (r: RawRevision): RevisionRow => ({
  id: r.id,
  versionId: r.version_id,
  number: r.number,
  plan: fromStoredPlan(fromJson(r.plan)),
  who: r.who,
  savedAt: r.created_at,
});

const VERSION = `SELECT id, shot_id AS shotId, number, purpose, status, from_revision_id AS fromRevisionId,
    named_project AS namedProject, named_shot AS namedShot
  FROM version`;

const SEQUENCE = `SELECT q.id, q.camera, q.pass, v.id AS versionId, v.number AS version, v.purpose,
    s.id AS shotId, s.code AS shot, p.slug AS project, p.root, p.folder,
    v.named_project AS namedProject, v.named_shot AS namedShot, q.source
  FROM sequence q
  JOIN version v ON v.id = q.version_id
  JOIN shot s ON s.id = v.shot_id
  JOIN project p ON p.id = s.project_id`;

type RawSequence = Omit<SequenceRow, "source"> & { source: unknown };
const readSequence = ({ source, ...r }: RawSequence): SequenceRow => ({
  ...r,
  source: source === null ? null : fromJson<WatchedPlace>(source),
});
const sequenceRows = async (
  db: Db,
  where: string,
  params: readonly (number | string)[] = [],
): Promise<SequenceRow[]> => (await rows<RawSequence>(db, `${SEQUENCE} ${where}`, params)).map(readSequence);

/** All shots of a project by code, archived ones too. */
export const listAllShots = async (db: Db, projectId: number): Promise<ShotRow[]> =>
  (await rows<RawShot>(db, `${SHOT} WHERE project_id = ? ORDER BY code`, [projectId])).map(readShot);

/** Those that are not archived, by code. */
export const listShots = async (db: Db, projectId: number): Promise<ShotRow[]> =>
  (await listAllShots(db, projectId)).filter((shot) => !shot.isArchived);

/** How many shots that are not archived each project has, by its id. */
export const countShots = async (db: Db): Promise<ReadonlyMap<number, number>> =>
  new Map(
    (
      await rows<{ id: number; shots: number }>(
        db,
        `SELECT project_id AS id, COUNT(*) AS shots
          FROM shot
          WHERE archived_at IS NULL
          GROUP BY project_id`,
      )
    ).map(({ id, shots }) => [id, shots]),
  );

/** Codes under which versions of a project's shots lie on disk, with the shot whose they are. */
export const namesOnDisk = (
  db: Db,
  projectId: number,
): Promise<{ readonly shotId: number; readonly namedShot: string }[]> =>
  rows(
    db,
    `SELECT DISTINCT v.shot_id AS shotId, v.named_shot AS namedShot
      FROM version v
      JOIN shot s ON s.id = v.shot_id
      WHERE s.project_id = ?`,
    [projectId],
  );

/** Shots of a code with the projects that have one, by the project's name. */
export async function shotsOfCode(
  db: Db,
  code: string,
): Promise<{ readonly project: ProjectRow; readonly shot: ShotRow }[]> {
  const found = (await rows<RawShot>(db, `${SHOT} WHERE code = ?`, [code])).map(readShot);
  const projects = await listAllProjects(db);
  return found
    .map((shot) => ({ shot, project: projects.find((p) => p.id === shot.projectId)! }))
    .sort((a, b) => (a.project.slug < b.project.slug ? -1 : 1));
}

/** A shot, or null. */
export async function shotById(db: Db, id: number): Promise<ShotRow | null> {
  const found = await row<RawShot>(db, `${SHOT} WHERE id = ?`, [id]);
  return found === null ? null : readShot(found);
}

/** Adds a shot and tells its id; a second one of that code in the project is refused by the table's key. */
export const insertShot = async (
  db: Db,
  shot: Omit<ShotRow, "id" | "isArchived" | "sound" | "thresholds">,
): Promise<number> =>
  (
    await write(
      db,
      `INSERT INTO shot (project_id, code, title, first_frame, last_frame, markers)
        VALUES (?, ?, ?, ?, ?, ?)`,
      [shot.projectId, shot.code, shot.title, shot.firstFrame, shot.lastFrame, JSON.stringify(shot.markers)],
    )
  ).id;

/** How far off is odd in a shot; null: as is usual. */
export async function saveThresholds(db: Db, shotId: number, thresholds: Thresholds | null): Promise<void> {
  await write(db, "UPDATE shot SET thresholds = ? WHERE id = ?", [
    thresholds === null ? null : JSON.stringify(thresholds),
    shotId,
  ]);
}

/** What may be changed of a shot. Versions that were opened keep the code of then on disk. */
export async function saveShot(db: Db, shot: ShotRow): Promise<void> {
  await write(
    db,
    `UPDATE shot
      SET code = ?, title = ?, first_frame = ?, last_frame = ?, markers = ?, sound = ?,
        archived_at = IF(?, COALESCE(archived_at, NOW(3)), NULL)
      WHERE id = ?`,
    [
      shot.code,
      shot.title,
      shot.firstFrame,
      shot.lastFrame,
      JSON.stringify(shot.markers),
      shot.sound === null ? null : JSON.stringify(shot.sound),
      shot.isArchived,
      shot.id,
    ],
  );
}

/** Versions of a shot, roughs and finals apart, oldest first; retired ones too. */
export const listVersions = (db: Db, shotId: number): Promise<VersionRow[]> =>
  rows<VersionRow>(db, `${VERSION} WHERE shot_id = ? ORDER BY purpose, number`, [shotId]);

/** A version, or null. */
export const versionById = (db: Db, id: number): Promise<VersionRow | null> =>
  row<VersionRow>(db, `${VERSION} WHERE id = ?`, [id]);

/** Locks all shots of a project: of two that take a code at one moment the second sees the first. */
export const lockShots = (tx: Tx, projectId: number): Promise<unknown> =>
  rows(tx, "SELECT id FROM project WHERE id = ? FOR UPDATE", [projectId]);

/** Locks versions, so that of two starts at one moment the second sees what the first has queued. */
export async function lockVersions(tx: Tx, ids: readonly number[]): Promise<void> {
  await rows(tx, `SELECT id FROM version WHERE id IN ${marks(ids)} ORDER BY id FOR UPDATE`, ids);
}

/** Locks them, so that two people who choose at once choose one after the other. */
export const lockVersionsOfShot = (db: Db, shotId: number): Promise<VersionRow[]> =>
  rows<VersionRow>(db, `${VERSION} WHERE shot_id = ? ORDER BY id FOR UPDATE`, [shotId]);

/**
 * Marks a version as proposed, chosen, or retired. Of chosen ones there is one: the caller takes the mark
 * from the other in the same transaction.
 */
export async function saveVersionStatus(db: Db, id: number, status: VersionStatus): Promise<void> {
  await write(db, "UPDATE version SET status = ? WHERE id = ?", [status, id]);
}

/** Locks the shot's row, so that two people who open a version at once get two numbers. */
export async function insertNextVersion(
  db: Db,
  shotId: number,
  purpose: Purpose,
  fromRevisionId: number | null,
): Promise<{ id: number; number: number }> {
  await row(db, "SELECT id FROM shot WHERE id = ? FOR UPDATE", [shotId]);
  const last = await row<{ number: number | null }>(
    db,
    "SELECT MAX(number) AS number FROM version WHERE shot_id = ? AND purpose = ?",
    [shotId, purpose],
  );
  const number = (last?.number ?? 0) + 1;
  return { id: await insertVersion(db, shotId, { purpose, version: number }, fromRevisionId), number };
}

/** A version of a number that is free. @returns its id */
export async function insertVersion(
  db: Db,
  shotId: number,
  { purpose, version }: VersionKey,
  fromRevisionId: number | null,
): Promise<number> {
  const named = (await row<{ project: string; shot: string }>(
    db,
    `SELECT p.slug AS project, s.code AS shot
      FROM shot s
      JOIN project p ON p.id = s.project_id
      WHERE s.id = ?`,
    [shotId],
  ))!;
  const { id } = await write(
    db,
    `INSERT INTO version (shot_id, number, purpose, from_revision_id, named_project, named_shot)
      VALUES (?, ?, ?, ?, ?, ?)`,
    [shotId, version, purpose, fromRevisionId, named.project, named.shot],
  );
  return id;
}

/** The newest plan of a version; null before the first was saved. */
export async function latestRevision(db: Db, versionId: number): Promise<RevisionRow | null> {
  const found = await row<RawRevision>(
    db,
    `${REVISION} WHERE e.version_id = ? ORDER BY e.number DESC LIMIT 1`,
    [versionId],
  );
  return found === null ? null : readRevision(found);
}

/** All revisions of a version, newest first: what Compare chooses from. */
export const revisionsOfVersion = async (db: Db, versionId: number): Promise<RevisionRow[]> =>
  (await rows<RawRevision>(db, `${REVISION} WHERE e.version_id = ? ORDER BY e.number DESC`, [versionId])).map(
    readRevision,
  );

/** A plan as it once was saved. Revisions are never written again: what a run follows stays what it was. */
export async function revisionById(db: Db, id: number): Promise<RevisionRow | null> {
  const found = await row<RawRevision>(db, `${REVISION} WHERE e.id = ?`, [id]);
  return found === null ? null : readRevision(found);
}

/** Locks the version's row first, so that revisions count up without a gap or a clash. */
export async function insertNextRevision(
  db: Db,
  versionId: number,
  plan: Plan,
  who: Who,
): Promise<RevisionRow> {
  await row(db, "SELECT id FROM version WHERE id = ? FOR UPDATE", [versionId]);
  const number = ((await latestRevision(db, versionId))?.number ?? 0) + 1;
  const { id } = await write(
    db,
    "INSERT INTO plan_revision (version_id, number, plan, who) VALUES (?, ?, ?, ?)",
    [versionId, number, JSON.stringify(plan), who],
  );
  return (await revisionById(db, id))!;
}

/**
 * The sequence of a camera and pass, made where it is new. Two that ask at once get one row.
 * @param source of files that something else makes; a sequence that is there keeps its own
 */
export async function ensureSequence(
  db: Db,
  versionId: number,
  camera: string,
  pass: string,
  source: WatchedPlace | null = null,
): Promise<number> {
  await write(db, "INSERT IGNORE INTO sequence (version_id, camera, pass, source) VALUES (?, ?, ?, ?)", [
    versionId,
    camera,
    pass,
    source === null ? null : JSON.stringify(source),
  ]);
  return (await row<{ id: number }>(
    db,
    "SELECT id FROM sequence WHERE version_id = ? AND camera = ? AND pass = ?",
    [versionId, camera, pass],
  ))!.id;
}

/** A sequence with the names of its shot and version, or null. */
export const sequenceById = async (db: Db, id: number): Promise<SequenceRow | null> =>
  (await sequenceRows(db, "WHERE q.id = ?", [id]))[0] ?? null;

/**
 * All cameras and passes of a version, also those that its newest plan no longer asks for: their files are
 * still there.
 */
export const sequencesOfVersion = (db: Db, versionId: number): Promise<SequenceRow[]> =>
  sequenceRows(db, "WHERE v.id = ? ORDER BY q.camera, q.pass", [versionId]);

/** Every sequence that there is, of what was put away too. */
export const listEverySequence = (db: Db): Promise<SequenceRow[]> => sequenceRows(db, "ORDER BY q.id");

/** Beauty sequences, which hold the leases, of each camera of some versions; by `leadKey`. */
export const leadsOf = async (db: Db, versionIds: readonly number[]): Promise<ReadonlyMap<string, number>> =>
  leadsAmong((await Promise.all(versionIds.map((id) => sequencesOfVersion(db, id)))).flat());

/** Every sequence of versions that are neither retired nor archived: what the folder watch watches. */
export const listSequences = (db: Db): Promise<SequenceRow[]> =>
  sequenceRows(
    db,
    "WHERE v.status <> 'retired' AND s.archived_at IS NULL AND p.archived_at IS NULL ORDER BY q.id",
  );

/** A sequence by its id. @throws TallyError `sequence-unknown` */
export async function requireSequence(id: number, db: Db = pool()): Promise<SequenceRow> {
  const sequence = await sequenceById(db, id);
  if (sequence === null) throw new TallyError("sequence-unknown");
  return sequence;
}

/** A revision that was saved was read before; one that cannot be read now is a fault of the program. */
export function readSavedPlan(revision: RevisionRow): ReadPlan {
  const read = readPlan(revision.plan);
  if (!read.ok)
    throw new TallyError("plan-unreadable", { revision: revision.number, message: read.faults[0]!.message });
  return read.value;
}
