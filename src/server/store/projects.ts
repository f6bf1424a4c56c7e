/**
 * Projects: what they are called, where they lie, and what plans of their new shots begin with.
 * What is archived is not listed unless it is asked for.
 */
import type { ProjectCounts } from "@/contract/rebuild";
import type { PresetSettings } from "@/core/plan/preset";
import type { Rate } from "@/core/timing/rate";
import { type Db, fromJson, row, rows, write } from "../db/rows";

export interface ProjectRow {
  readonly id: number;
  /** In addresses, names and folders. */
  readonly slug: string;
  readonly title: string;
  readonly rate: Rate;
  /** Name of a storage root: each machine has a path of its own for it. */
  readonly root: string;
  /** Relative to the root. */
  readonly folder: string;
  readonly isArchived: boolean;
  /** Settings that plans of new shots begin with. */
  readonly defaults: PresetSettings;
}

const PROJECT = `SELECT id, slug, title, rate_numerator, rate_denominator, root, folder, defaults,
    archived_at IS NOT NULL AS is_archived
  FROM project`;
interface RawProject {
  id: number;
  slug: string;
  title: string;
  rate_numerator: number;
  rate_denominator: number;
  root: string;
  folder: string;
  defaults: unknown;
  is_archived: number;
}
const readProject = (r: RawProject): ProjectRow => ({
  id: r.id,
  slug: r.slug,
  title: r.title,
  rate: { numerator: r.rate_numerator, denominator: r.rate_denominator },
  root: r.root,
  folder: r.folder,
  isArchived: r.is_archived === 1,
  defaults: r.defaults === null ? {} : fromJson(r.defaults),
});

/** All projects, archived ones too, in the order in which they were made. */
export const listAllProjects = async (db: Db): Promise<ProjectRow[]> =>
  (await rows<RawProject>(db, `${PROJECT} ORDER BY id`)).map(readProject);

/** Those that are not archived, in the order in which they were made. */
export const listProjects = async (db: Db): Promise<ProjectRow[]> =>
  (await listAllProjects(db)).filter((project) => !project.isArchived);

/** A project by the name that stands in addresses, or null. */
export async function projectBySlug(db: Db, slug: string): Promise<ProjectRow | null> {
  const found = await row<RawProject>(db, `${PROJECT} WHERE slug = ?`, [slug]);
  return found === null ? null : readProject(found);
}

export async function projectById(db: Db, id: number): Promise<ProjectRow | null> {
  const found = await row<RawProject>(db, `${PROJECT} WHERE id = ?`, [id]);
  return found === null ? null : readProject(found);
}

/** Locks one, so that names are given in it one after the other. */
export const lockProject = (tx: Db, id: number): Promise<unknown> =>
  row(tx, "SELECT id FROM project WHERE id = ? FOR UPDATE", [id]);

/** Locks all of them: of two that are made at one moment the second sees where the first lies. */
export const lockProjects = (tx: Db): Promise<unknown> =>
  rows(tx, "SELECT id FROM project ORDER BY id FOR UPDATE");

/** What may be changed of a project once it is there; its place stays. */
export async function saveProject(
  db: Db,
  { id, slug, title, rate, defaults, isArchived }: ProjectRow,
): Promise<void> {
  await write(
    db,
    `UPDATE project
      SET slug = ?, title = ?, rate_numerator = ?, rate_denominator = ?, defaults = ?,
        archived_at = IF(?, COALESCE(archived_at, NOW(3)), NULL)
      WHERE id = ?`,
    [slug, title, rate.numerator, rate.denominator, JSON.stringify(defaults), isArchived, id],
  );
}

/** Adds a project and tells its id; a second one of that slug is refused by the table's key. */
export const insertProject = async (
  db: Db,
  project: Omit<ProjectRow, "id" | "isArchived" | "defaults">,
): Promise<number> =>
  (
    await write(
      db,
      `INSERT INTO project (slug, title, rate_numerator, rate_denominator, root, folder)
        VALUES (?, ?, ?, ?, ?, ?)`,
      [
        project.slug,
        project.title,
        project.rate.numerator,
        project.rate.denominator,
        project.root,
        project.folder,
      ],
    )
  ).id;

/** Forgets a project whose shots and edits were forgotten before. */
export async function deleteProject(db: Db, id: number): Promise<void> {
  await write(db, "DELETE FROM handover WHERE project_id = ?", [id]);
  await write(db, "DELETE FROM project WHERE id = ?", [id]);
}

export async function countsOfProject(db: Db, slug: string): Promise<ProjectCounts> {
  const ofVersions = "FROM project p JOIN shot s ON s.project_id = p.id JOIN version v ON v.shot_id = s.id";
  const ofSequences = `${ofVersions} JOIN sequence q ON q.version_id = v.id`;
  const found = await row<ProjectCounts>(
    db,
    `SELECT
      (SELECT COUNT(*) FROM project p JOIN shot s ON s.project_id = p.id WHERE p.slug = ?) AS shots,
      (SELECT COUNT(*) ${ofVersions} WHERE p.slug = ?) AS versions,
      (SELECT COUNT(*) ${ofSequences} JOIN frame_file f ON f.sequence_id = q.id WHERE p.slug = ?) AS frames,
      (SELECT COUNT(*) ${ofSequences} JOIN attempt a ON a.sequence_id = q.id WHERE p.slug = ?) AS attempts,
      (SELECT COUNT(*) ${ofSequences} JOIN finding f ON f.sequence_id = q.id
        WHERE p.slug = ? AND f.source = 'person' AND f.state = 'open') AS flags`,
    [slug, slug, slug, slug, slug],
  );
  return found!;
}
