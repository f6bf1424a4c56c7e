/** Handovers as pages show them. */
import fs from "node:fs/promises";
import type { HandoverView } from "@/contract/handover";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { handoversFolder } from "../files/layout";
import { requireProject } from "../store/find-shot";
import { type HandoverRow, handoversOfEdit, handoversOfSequences } from "../store/handovers";
import { projectBySlug, type ProjectRow } from "../store/projects";
import { requireSequence } from "../store/shots";
import { loadSequence } from "../views/tally";
import { madeFrom } from "./made-from";
import { reelOfSource, sourceOf } from "./reel";
import { reelOfEdit } from "./reel-of-edit";
import path from "node:path";

/** More are in the folder. */
const SHOWN = 50;

const isThere = (place: string): Promise<boolean> =>
  fs.stat(place).then(
    () => true,
    () => false,
  );

/** @param hashNow of what it would be made from now; null where nobody can tell */
async function viewOf(
  row: HandoverRow,
  project: ProjectRow,
  hashNow: (row: HandoverRow) => string | null,
): Promise<HandoverView> {
  const place = row.outside ?? path.join(handoversFolder(project), row.name!);
  const isDone = row.state === "done";
  const now = isDone && row.madeFrom !== null ? hashNow(row) : null;
  return {
    id: row.id,
    wish: row.wish,
    name: row.name,
    path: place,
    state: row.state,
    progress: row.progress,
    node: row.node,
    runId: row.runId,
    held: row.held,
    isOutOfDate: now === null ? null : now !== row.madeFrom,
    isHere: isDone && row.name !== null && (await isThere(place)),
    result: row.result,
    fault: row.fault,
    who: row.who,
    createdAt: row.createdAt.getTime(),
    endedAt: row.endedAt?.getTime() ?? null,
  };
}

/** What cannot be told now, such as a phrase whose marker is gone, is not out of date. */
const orNull = (hash: () => string): string | null => {
  try {
    return hash();
  } catch (error) {
    if (error instanceof TallyError) return null;
    throw error;
  }
};

/** Of a sequence, the newest first. @throws TallyError `sequence-unknown` */
export async function viewHandovers(sequenceId: number): Promise<readonly HandoverView[]> {
  const sequence = await requireSequence(sequenceId);
  const rows = await handoversOfSequences(pool(), [sequenceId], SHOWN);
  const project = (await projectBySlug(pool(), sequence.project))!;
  if (rows.length === 0) return [];
  const source = await sourceOf(await loadSequence(sequenceId));
  const known = new Map<string, string | null>();
  const hashNow = ({ wish }: HandoverRow): string | null => {
    if (!known.has(wish.frames))
      known.set(
        wish.frames,
        orNull(() => madeFrom(reelOfSource(source, wish.frames, wish.gaps))),
      );
    return known.get(wish.frames)!;
  };
  return Promise.all(rows.map((row) => viewOf(row, project, hashNow)));
}

/** Of a project's edit, the newest first. @throws TallyError `project-unknown` */
export async function viewEditHandovers(slug: string): Promise<readonly HandoverView[]> {
  const project = await requireProject(slug);
  const rows = await handoversOfEdit(pool(), project.id, SHOWN);
  const now =
    rows.length === 0
      ? null
      : await reelOfEdit(project, "card").then(madeFrom, (error: unknown) => {
          if (error instanceof TallyError) return null;
          throw error;
        });
  return Promise.all(rows.map((row) => viewOf(row, project, () => now)));
}
