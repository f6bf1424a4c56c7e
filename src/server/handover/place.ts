/** Where a handover lies: in its project's folder of handovers, in a folder that somebody chose, or where a command put it. */
import path from "node:path";
import type { Wish } from "@/core/handover/wish";
import { declaredRoots } from "../configuration";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { handoversFolder } from "../files/layout";
import { isInside, projectFolder } from "../files/paths";
import { pointedPlace } from "../folder/place-below-root";
import type { HandoverRow } from "../store/handovers";
import { listAllProjects, projectById, type ProjectRow } from "../store/projects";

/**
 * The same wish with its folder named by a root, as every machine of the house finds it.
 * @throws TallyError `folder-missing`, `folder-outside-roots`, `path-outside-root`, `root-unknown`; `handover-wrong` for a
 * folder among frames
 */
export async function withPlace(wish: Wish): Promise<Wish> {
  if (wish.into === null) return wish;
  const into = await pointedPlace(wish.into);
  const folder = projectFolder(into);
  const roots = declaredRoots();
  for (const project of await listAllProjects(pool())) {
    if (!Object.hasOwn(roots, project.root) || !isInside(projectFolder(project), folder)) continue;
    if (isInside(handoversFolder(project), folder)) continue;
    throw new TallyError("handover-wrong", {
      message: `${folder} belongs to ${project.title}: what is handed over would lie among its frames. Below a project there is its folder handovers.`,
    }).at("folder");
  }
  return { ...wish, into };
}

/** Absolute; the one of the project is made when something is put into it. @throws what withPlace does */
export async function folderOfHandovers(project: ProjectRow, wish: Wish): Promise<string> {
  const { into } = await withPlace(wish);
  return into === null ? handoversFolder(project) : projectFolder({ root: into.root!, folder: into.folder });
}

/** Absolute, on this machine. @throws TallyError `project-unknown`, `root-unknown`, `path-outside-root`, and what withPlace does */
export async function placeOfHandover(
  row: Pick<HandoverRow, "projectId" | "name" | "outside" | "wish">,
): Promise<string> {
  if (row.outside !== null) return row.outside;
  const project = await projectById(pool(), row.projectId);
  if (project === null) throw new TallyError("project-unknown", { slug: null });
  // A record beside the frames may have been changed: no name of it leads out of its folder.
  const folder = await folderOfHandovers(project, row.wish);
  const place = path.resolve(folder, row.name!);
  if (path.dirname(place) !== folder) throw new TallyError("path-outside-root", { path: row.name! });
  return place;
}
