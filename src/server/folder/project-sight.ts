/**
 * Which projects' folders can be seen by this process. One that cannot is told on every page, with the time
 * since when, and nothing of it is forgotten meanwhile: whoever would note that a file is gone asks here first.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { OutOfSightView } from "@/contract/live";
import { placeKey, type WatchedPlace } from "@/core/plan/watched";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sequencePlace } from "../files/layout";
import { markProject, NO_MARK, type OutOfSight, whyOutOfSight } from "../files/project-mark";
import { projectFolder, type ProjectPlace } from "../files/paths";
import { filesToProve, hasFilesOfSequence } from "../store/frame-files";
import { listSequences, type SequenceRow } from "../store/shots";

/** Of a folder that a person may have emptied, and a share that is away may leave behind. */
const IS_EMPTY: OutOfSight = "nothing is in it any more";

/** A project's place, and its name in addresses. */
export interface ProjectInSight extends ProjectPlace {
  readonly project: string;
}

/** By project; folders that something else fills stand beside it by their place. */
const shared = globalThis as { plainTallyOutOfSight?: Map<string, OutOfSightView> };
const outOfSight = (): Map<string, OutOfSightView> => (shared.plainTallyOutOfSight ??= new Map());

/** Projects that cannot be seen at the moment, for the pages. */
export const projectsOutOfSight = (): readonly OutOfSightView[] => [...outOfSight().values()];

/**
 * A folder without a mark, as one of before there were marks, or one that somebody tidied up. It is the real
 * one if a file that is known lies in it, or if nothing is known that could be forgotten.
 */
async function isProved({ project }: ProjectInSight): Promise<boolean> {
  const known = await filesToProve(pool(), project);
  if (known.length === 0) return true;
  const sequences = new Map((await listSequences(pool())).map((s) => [s.id, s]));
  for (const { sequenceId, name, bytes } of known) {
    const sequence = sequences.get(sequenceId);
    if (sequence === undefined) continue;
    const stat = await fs.stat(path.join(sequencePlace(sequence), path.basename(name))).catch(() => null);
    if (stat?.size === bytes) return true;
  }
  return false;
}

/** Why it cannot be seen, or null; a folder that is proved to be the real one gets its mark. */
async function lookAtProject(place: ProjectInSight): Promise<OutOfSight | null> {
  const why = await whyOutOfSight(place);
  if (why !== NO_MARK || !(await isProved(place))) return why;
  // Where nobody may write the mark, the proof has to do.
  await markProject(place).catch(() => undefined);
  return null;
}

/** Remembers that it cannot be seen, and since when; or that it can be seen again. */
function note(key: string, project: string, folder: string, why: OutOfSight | null): void {
  if (why === null) outOfSight().delete(key);
  else outOfSight().set(key, { project, folder, since: outOfSight().get(key)?.since ?? Date.now(), why });
}

/**
 * Notes whether the project's folder can be seen, and since when it cannot.
 * @throws TallyError `project-out-of-sight`
 */
export async function requireSight(place: ProjectInSight): Promise<void> {
  const why = await lookAtProject(place);
  const folder = projectFolder(place);
  note(place.project, place.project, folder, why);
  if (why !== null) throw new TallyError("project-out-of-sight", { folder, why });
}

/**
 * Why a folder that something else fills cannot be seen, or null. It bears no mark of ours: one that is gone or
 * empty while files of it are known is taken for away, so that a share that hangs elsewhere forgets nothing. With
 * the first file that is in it again, what is gone is gone.
 */
async function whySourceOutOfSight(
  sequence: SequenceRow & { readonly source: WatchedPlace },
): Promise<OutOfSight | null> {
  // One entry is enough: this is asked for every frame that may be gone, of folders of a hundred thousand.
  let isEmpty: boolean;
  try {
    const folder = await fs.opendir(sequencePlace(sequence));
    isEmpty = (await folder.read().finally(() => folder.close())) === null;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code ?? (error as Error).message;
  }
  return isEmpty && (await hasFilesOfSequence(sequence.id)) ? IS_EMPTY : null;
}

/** Why files of a sequence cannot be seen: its project's folder, or the one that its files lie in. */
export async function whySequenceOutOfSight(sequence: SequenceRow): Promise<OutOfSight | null> {
  const { source } = sequence;
  return (
    (await whyOutOfSight(sequence)) ??
    (source === null ? null : await whySourceOutOfSight({ ...sequence, source }))
  );
}

/**
 * The same as for its project, and for the folder that something else fills.
 * @throws TallyError `project-out-of-sight`, `source-out-of-sight`
 */
export async function requireSequenceInSight(sequence: SequenceRow): Promise<void> {
  await requireSight(sequence);
  const { source } = sequence;
  if (source === null) return;
  const why = await whySourceOutOfSight({ ...sequence, source });
  const folder = sequencePlace(sequence);
  note(placeKey(source), sequence.project, folder, why);
  if (why !== null) throw new TallyError("source-out-of-sight", { folder, why });
}
