/** A handover is asked for: judged, named, and put down for whoever makes it. */
import fs from "node:fs/promises";
import path from "node:path";
import type { Who } from "@/contract/who";
import { handoverName } from "@/core/handover/handover-name";
import { movieFault, tellsFaults, type Wish } from "@/core/handover/wish";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insertHandover, namesOfHandovers } from "../store/handovers";
import { lockProject, projectById } from "../store/projects";
import { requireClosable } from "./close-case";
import { folderOfHandovers, withPlace } from "./place";
import { requireWhole } from "./reel";
import { freshReelOf, type HandedOver } from "./reel-of-row";

export interface HandoverRequest extends HandedOver {
  readonly wish: Wish;
  readonly who: Who;
  /** It begins when that run has left its frames good; null: at once. */
  readonly runId: number | null;
  /** Absolute; null: in the project's folder of handovers, under the next name. */
  readonly outside: string | null;
}

const isThere = async (place: string): Promise<boolean> =>
  fs.lstat(place).then(
    () => true,
    () => false,
  );

/** @throws TallyError `handover-taken`; `folder-missing` for what it would lie in */
async function requireFree(place: string): Promise<void> {
  if (await isThere(place)) throw new TallyError("handover-taken", { path: place });
  const folder = path.dirname(place);
  const stat = await fs.stat(folder).catch((error: NodeJS.ErrnoException) => {
    throw new TallyError("folder-missing", { folder, errno: error.code }).because(error);
  });
  if (!stat.isDirectory()) throw new TallyError("folder-missing", { folder, errno: "it is a file" });
}

/** The first number whose name neither a row nor a file has. @param folder absolute */
export async function nextName(
  folder: string,
  stem: string,
  wish: Wish,
  names: readonly string[],
): Promise<string> {
  const taken = new Set(names);
  for (let number = 1; ; number++) {
    const name = handoverName(stem, wish, number);
    if (!taken.has(name) && !(await isThere(path.join(folder, name)))) return name;
  }
}

/** What cannot be, wherever it is asked for. @throws TallyError `handover-wrong`, at its field */
export function requirePossible(wish: Wish): void {
  const fault = wish.as === "movie" ? movieFault(wish.movie) : null;
  if (fault !== null) throw new TallyError("handover-wrong", { message: fault.message }).at(fault.field);
}

/**
 * @returns the number of the handover, and where it will be
 * @throws TallyError `handover-wrong`, `handover-troubles`, `handover-taken`, `phrase-wrong`, `handover-no-frames`,
 * and what withPlace does
 */
export async function createHandover(
  request: HandoverRequest,
): Promise<{ readonly id: number; readonly path: string }> {
  const { outside, projectId } = request;
  requirePossible(request.wish);
  const wish = await withPlace(request.wish);
  const reel = await freshReelOf(request, wish);
  // What follows a run is judged when that is over.
  if (request.runId === null && !tellsFaults(wish.as)) requireWhole(reel, wish.gaps);
  if (wish.as === "case") await requireClosable(reel.sources[0]!.sequence);
  const project = await projectById(pool(), projectId);
  if (project === null) throw new TallyError("project-unknown", { slug: null });
  if (outside !== null) await requireFree(outside);
  const folder = await folderOfHandovers(project, wish);
  return transact(async (tx) => {
    await lockProject(tx, projectId);
    const name =
      outside === null
        ? await nextName(folder, reel.stem, wish, await namesOfHandovers(tx, projectId, reel.stem))
        : null;
    const id = await insertHandover(tx, { ...request, wish, name });
    return { id, path: outside ?? path.join(folder, name!) };
  });
}
