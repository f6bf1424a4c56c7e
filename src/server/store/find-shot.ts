/**
 * Finds projects and shots by their names. A shot is `project/CODE`; a bare code will do while only one
 * project has it.
 */
import { pool } from "../db/pool";
import type { Db } from "../db/rows";
import { TallyError } from "../errors";
import { listProjects, projectBySlug, type ProjectRow } from "./projects";
import { type ShotRow, shotsOfCode } from "./shots";

export interface FoundShot {
  readonly project: ProjectRow;
  readonly shot: ShotRow;
}

/**
 * A project by its slug. @throws TallyError `project-unknown`, which says so too where there is no project at
 * all
 */
export async function requireProject(slug: string, db: Db = pool()): Promise<ProjectRow> {
  const found = await projectBySlug(db, slug);
  if (found === null)
    throw new TallyError("project-unknown", { slug: (await listProjects(db)).length === 0 ? null : slug });
  return found;
}

/** Null when there is no such shot; refuses a bare code that several projects have. */
export async function findShot(name: string, db: Db = pool()): Promise<FoundShot | null> {
  const slash = name.lastIndexOf("/");
  const code = name.slice(slash + 1);
  const all = await shotsOfCode(db, code);
  if (slash >= 0) return all.find((f) => f.project.slug === name.slice(0, slash)) ?? null;
  if (all.length > 1)
    throw new TallyError("shot-ambiguous", { code, names: all.map((f) => `${f.project.slug}/${code}`) });
  return all[0] ?? null;
}

/**
 * A shot by `project/CODE` or a bare code. @throws TallyError `shot-unknown`, or with both names where two
 * projects have that code
 */
export async function requireShot(name: string, db: Db = pool()): Promise<FoundShot> {
  const found = await findShot(name, db);
  if (found === null) throw new TallyError("shot-unknown", { shot: name });
  return found;
}
