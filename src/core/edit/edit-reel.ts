/**
 * An edit as a row of places, one a frame of its time: which frame of which shot is seen, and where nothing is. It begins
 * with its first clip, as most edits begin at an hour of their own.
 */
import { firstOf, lastOf } from "../frames/frame-set";
import { framesAStep, numbersOfStretch, type Timing } from "../plan/scene-time";
import { sceneFramesOf } from "./edit-use";

/** Places of an edit at most: two hours at 24 a second. */
export const MOST_PLACES = 172_800;

/** As it is kept of an edit that was read. */
export interface ReelClip {
  /** Of a shot of ours; null: the clip is none. */
  readonly code: string | null;
  /** Source frames, and the one after the last. */
  readonly first: number;
  readonly end: number;
  /** Frames of the edit before it begins. */
  readonly starts: number;
}

/** A stretch of the edit: a clip, or a hole between two. */
export interface ReelStretch {
  /** Null: a hole, or a clip that is no shot of ours. */
  readonly code: string | null;
  /** Its first place. */
  readonly start: number;
  readonly length: number;
  /** Number of the file of its first place; null where it has none. */
  readonly firstNumber: number | null;
  /** File numbers from one place to the next: 1, unless the shot is rendered at another rate than it is cut at. */
  readonly perPlace: number;
}

/** The file of a place of a stretch. @param n from its first place on */
export const numberOfPlace = ({ firstNumber, perPlace }: ReelStretch, n: number): number | null =>
  firstNumber === null ? null : firstNumber + Math.floor(n * perPlace + 1e-9);

/**
 * Clips that lie over one another: the one that is later in the list is seen.
 * @param timingOf of the shot's plan; null where the shot is not known
 * @returns stretches in the order of their places, without a gap; null where the edit is too long to be shown
 */
export function editReel(
  clips: readonly ReelClip[],
  timingOf: (code: string) => Timing | null,
): readonly ReelStretch[] | null {
  const shown = clips.filter(({ first, end }) => end > first);
  if (shown.length === 0) return [];
  const begin = shown.reduce((least, { starts }) => Math.min(least, starts), Infinity);
  const end = shown.reduce((most, c) => Math.max(most, c.starts + c.end - c.first), -Infinity);
  if (end - begin > MOST_PLACES) return null;
  // Of each place, the clip that is seen; later clips lie over earlier ones.
  const seen = new Int32Array(end - begin).fill(-1);
  shown.forEach((clip, i) => seen.fill(i, clip.starts - begin, clip.starts - begin + clip.end - clip.first));
  const stretches: ReelStretch[] = [];
  for (let start = 0; start < seen.length;) {
    let stop = start + 1;
    while (stop < seen.length && seen[stop] === seen[start]) stop++;
    const clip = shown[seen[start]!];
    const timing = clip?.code == null ? null : timingOf(clip.code);
    stretches.push({
      code: timing === null ? null : clip!.code,
      start,
      length: stop - start,
      firstNumber: timing === null ? null : numberAt(clip!, start - (clip!.starts - begin), timing),
      perPlace: timing === null ? 1 : 1 / framesAStep(timing),
    });
    start = stop;
  }
  return stretches;
}

/** The file of the n-th frame of a clip. */
function numberAt(clip: ReelClip, n: number, timing: Timing): number | null {
  const scene = firstOf(sceneFramesOf(clip, timing.timeLine));
  // The one that is on show at that time: at a lower rate it may be one from before.
  return scene === null ? null : lastOf(numbersOfStretch(timing, timing.timeLine.first, scene + n));
}
