/** The reel of a handover, as things are now, or with its folders looked at first. */
import { catchUp } from "../folder/check";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { requireProject } from "../store/find-shot";
import type { HandoverRow } from "../store/handovers";
import { projectById } from "../store/projects";
import { requireSequence } from "../store/shots";
import { type Reel, reelOfSequence } from "./reel";
import { reelOfEdit } from "./reel-of-edit";
import type { Wish } from "@/core/handover/wish";

/** Of what it is: a sequence, or the newest edit of a project. */
export interface HandedOver {
  readonly projectId: number;
  readonly sequenceId: number | null;
}

/** @throws TallyError `sequence-unknown` */
export async function handedOverOf(sequenceId: number): Promise<HandedOver> {
  const { project } = await requireSequence(sequenceId);
  return { projectId: (await requireProject(project)).id, sequenceId };
}

/** @throws TallyError `sequence-unknown`, `edit-none`, `phrase-wrong`, `handover-no-frames` */
export async function reelOf({ projectId, sequenceId }: HandedOver, wish: Wish): Promise<Reel> {
  if (sequenceId !== null) return reelOfSequence(sequenceId, wish.frames, wish.gaps);
  const project = await projectById(pool(), projectId);
  if (project === null) throw new TallyError("project-unknown", { slug: null });
  if (wish.as !== "movie" && wish.as !== "page" && wish.as !== "sheet")
    throw new TallyError("handover-wrong", {
      message: "An edit is handed over as a movie, a moving page or a sheet.",
    }).at("as");
  return reelOfEdit(project, wish.gaps);
}

/** The same, of files as they are on disk at this moment. */
export async function freshReelOf(
  of: Pick<HandoverRow, "projectId" | "sequenceId">,
  wish: Wish,
): Promise<Reel> {
  for (const { sequence } of (await reelOf(of, wish)).sources) await catchUp(sequence);
  return reelOf(of, wish);
}
