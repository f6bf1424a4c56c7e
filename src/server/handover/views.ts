/** Handovers as pages show them. */
import fs from "node:fs/promises";
import type { HandoverView } from "@/contract/handover";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { requireProject } from "../store/find-shot";
import { handoverById, type HandoverRow, handoversOfEdit, handoversOfSequences } from "../store/handovers";
import { requireSequence } from "../store/shots";
import { loadSequence } from "../views/tally";
import { madeFrom } from "./made-from";
import { placeOfHandover } from "./place";
import { reelOfSource, sourceOf } from "./reel";
import { reelOfEdit } from "./reel-of-edit";

/** More are in the folder. */
const SHOWN = 50;

const isThere = (place: string): Promise<boolean> =>
  fs.stat(place).then(
    () => true,
    () => false,
  );

/** @param hashNow of what it would be made from now; null where nobody can tell */
async function viewOf(row: HandoverRow, hashNow: (row: HandoverRow) => string | null): Promise<HandoverView> {
  // Its root may not be declared here, or its folder be gone.
  const place = await placeOfHandover(row).catch((error: unknown) => {
    if (error instanceof TallyError) return null;
    throw error;
  });
  const isDone = row.state === "done";
  const now = isDone && row.madeFrom !== null ? hashNow(row) : null;
  return {
    id: row.id,
    wish: row.wish,
    name: row.name,
    path: place ?? row.result?.path ?? row.name!,
    state: row.state,
    progress: row.progress,
    node: row.node,
    runId: row.runId,
    held: row.held,
    isOutOfDate: now === null ? null : now !== row.madeFrom,
    isHere: isDone && row.name !== null && place !== null && (await isThere(place)),
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

/** One alone, without a look at what is under it: asked again and again while it is made. @throws TallyError `handover-unknown` */
export async function viewHandover(id: number): Promise<HandoverView> {
  const row = await handoverById(pool(), id);
  if (row === null) throw new TallyError("handover-unknown");
  return viewOf(row, () => null);
}

/** Of a sequence, the newest first. @throws TallyError `sequence-unknown` */
export async function viewHandovers(sequenceId: number): Promise<readonly HandoverView[]> {
  await requireSequence(sequenceId);
  const rows = await handoversOfSequences(pool(), [sequenceId], SHOWN);
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
  return Promise.all(rows.map((row) => viewOf(row, hashNow)));
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
  return Promise.all(rows.map((row) => viewOf(row, () => now)));
}
