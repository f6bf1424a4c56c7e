/**
 * What events come to: versions of which single frames have changed, which are told with what became of
 * them, and sequences whose view is out of date as a whole. Pure.
 */
import { EMPTY, type FrameSet, rangeSet, unionAll } from "@/core/frames/frame-set";
import type { EventRow } from "../store/events";

/** More frames of a version than this at one moment are read as a whole. */
export const MOST_FRAMES = 1_000;

export interface SortedEvents {
  /** null: every one. */
  readonly sequences: readonly number[] | null;
  readonly frames: readonly {
    readonly versionId: number;
    readonly sequenceIds: readonly number[];
    /** Frames that may have changed. */
    readonly set: FrameSet;
    readonly runIds: readonly number[];
  }[];
}

/** @param isShown whether a page shows a version: of others it is told only that they have changed */
export function sortEvents(
  events: readonly EventRow[],
  isShown: (versionId: number) => boolean,
): SortedEvents {
  if (events.some((e) => e.kind === "plan")) return { sequences: null, frames: [] };
  const byVersion = new Map<number, EventRow[]>();
  for (const event of events) {
    if (event.versionId === null) continue;
    const own = byVersion.get(event.versionId);
    if (own === undefined) byVersion.set(event.versionId, [event]);
    else own.push(event);
  }
  // A version of which any frame may have changed: the runs that say so are told at once, the rest is asked
  // for.
  const sorted = [...byVersion].map(([versionId, own]) => ({
    versionId,
    sequenceIds: [...new Set(own.map((e) => e.sequenceId!))],
    runIds: [...new Set(own.flatMap((e) => (e.runId === null ? [] : [e.runId])))],
    set: isShown(versionId) ? framesOf(own) : null,
  }));
  return {
    sequences: sorted.filter((v) => v.set === null).flatMap((v) => v.sequenceIds),
    frames: sorted
      .filter((v) => v.set !== null || (v.runIds.length > 0 && isShown(v.versionId)))
      .map((v) => ({ ...v, set: v.set ?? EMPTY })),
  };
}

/** null: any frame may have changed, or too many have. */
function framesOf(events: readonly EventRow[]): FrameSet | null {
  const sets: FrameSet[] = [];
  for (const { firstFrame, lastFrame } of events) {
    if (firstFrame === null || lastFrame === null || lastFrame - firstFrame >= MOST_FRAMES) return null;
    sets.push(rangeSet(firstFrame, lastFrame));
  }
  const all = unionAll(sets);
  return all.count > MOST_FRAMES ? null : all;
}
