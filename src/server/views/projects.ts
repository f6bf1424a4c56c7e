/** What a house holds: its projects, where others could lie, and what is in the folder of one. */
import fs from "node:fs/promises";
import path from "node:path";
import type { ProjectFilesView, ProjectsView } from "@/contract/project-view";
import { declaredRoots } from "../configuration";
import { pool } from "../db/pool";
import { freeBytes } from "../files/free-space";
import { HANDOVERS } from "../files/layout";
import { projectFolder } from "../files/paths";
import { rendererOffers } from "../scenes/renderers";
import { requireProject } from "../store/find-shot";
import { lastDeeds } from "../store/deeds";
import { listAllProjects } from "../store/projects";
import { countShots, namesOnDisk } from "../store/shots";

/** Archived ones too: the page shows them apart. */
export async function viewProjects(): Promise<ProjectsView> {
  const counts = await countShots(pool());
  const projects = await listAllProjects(pool());
  const deeds = await lastDeeds(
    pool(),
    "project_id",
    projects.map(({ id }) => id),
  );
  return {
    projects: projects.map(({ id, slug, title, rate, root, folder, isArchived, defaults }) => ({
      slug,
      title,
      rate,
      root,
      folder,
      isArchived,
      defaults,
      shots: counts.get(id) ?? 0,
      deed: deeds.get(id) ?? null,
    })),
    roots: await Promise.all(
      Object.entries(declaredRoots()).map(async ([name, folder]) => ({
        name,
        folder,
        freeBytes: await freeBytes(folder),
      })),
    ),
  };
}

/** Files that are told; a project may hold very many. */
const MOST_FILES = 5_000;
/** Folders inside one another that are looked into. */
const DEEPEST = 6;

/**
 * Files of the project that a scene may be chosen from: none of our own, none of a shot's frames, and none that was
 * given away.
 * @throws TallyError `project-unknown`
 */
export async function viewProjectFiles(slug: string): Promise<ProjectFilesView> {
  const project = await requireProject(slug);
  const folder = projectFolder(project);
  const others = new Set([HANDOVERS, ...(await namesOnDisk(pool(), project.id)).map((n) => n.namedShot)]);
  const files: string[] = [];
  let isWhole = true;
  const walk = async (relative: string, depth: number): Promise<void> => {
    const entries = await fs.readdir(path.join(folder, relative), { withFileTypes: true }).catch(() => []);
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (entry.name.startsWith(".") || (depth === 0 && others.has(entry.name))) continue;
      const place = path.posix.join(relative, entry.name);
      if (entry.isDirectory()) {
        if (depth >= DEEPEST) isWhole = false;
        else await walk(place, depth + 1);
      } else if (entry.isFile()) {
        if (files.length < MOST_FILES) files.push(place);
        else isWhole = false;
      }
      if (files.length >= MOST_FILES && !isWhole) return;
    }
  };
  await walk("", 0);
  return { folder, files, isWhole, renderers: rendererOffers().map(({ name }) => name) };
}
