/**
 * The tasks of a run: each frame of a camera once, with the passes that need it, in the order of the run.
 * Tasks are laid out by beauty sequences, which hold the leases: passes of one frame are one task, for one
 * rendering makes them all.
 */
import { type FrameSet, members, setOf } from "../frames/frame-set";
import type { Pass } from "../plan/passes";
import { orderFrames, type RunOrder } from "./run-order";
import { sharePasses } from "./what-to-render";

/** Names a camera of a version. */
export const leadKey = ({
  versionId,
  camera,
}: {
  readonly versionId: number;
  readonly camera: string;
}): string => `${versionId}/${camera}`;

/** Beauty sequences, which hold the leases, of each camera; by `leadKey`. */
export const leadsAmong = (
  sequences: readonly {
    readonly id: number;
    readonly versionId: number;
    readonly camera: string;
    readonly pass: string;
  }[],
): ReadonlyMap<string, number> =>
  new Map(sequences.filter((s) => s.pass === "beauty").map((s) => [leadKey(s), s.id]));

export interface FrameTask {
  readonly kind: "frame";
  /** Beauty sequence of the camera. */
  readonly leadId: number;
  readonly frame: number;
  /** That need it, in the plan's order. */
  readonly passes: readonly Pass[];
}

/**
 * One task for a frame of a camera, whatever number of its passes need it: they come from one render.
 * @param leads beauty sequence of each camera, by version and camera
 */
export function frameTasks(
  decided: readonly {
    readonly versionId: number;
    readonly camera: string;
    readonly pass: Pass;
    /** Of this sequence. */
    readonly toRender: FrameSet;
  }[],
  leads: ReadonlyMap<string, number>,
): FrameTask[] {
  const tasks: FrameTask[] = [];
  for (const key of new Set(decided.map(leadKey))) {
    const leadId = leads.get(key)!;
    for (const { passes, frames } of sharePasses(decided.filter((d) => leadKey(d) === key)))
      for (const frame of members(frames)) tasks.push({ kind: "frame", leadId, frame, passes });
  }
  return tasks;
}

/** The cameras and versions of a frame come one after the other, so that looks can be compared early. */
export function inOrder<T extends { readonly leadId: number; readonly frame: number }>(
  tasks: readonly T[],
  order: RunOrder,
  terms: readonly FrameSet[],
): T[] {
  const places = new Map(
    orderFrames(setOf(tasks.map((t) => t.frame)), order, terms).map((frame, i) => [frame, i]),
  );
  return [...tasks].sort((a, b) => places.get(a.frame)! - places.get(b.frame)! || a.leadId - b.leadId);
}
