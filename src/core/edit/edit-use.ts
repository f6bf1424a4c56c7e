/** What an edit uses of each shot: clips matched by name, source counts turned into scene frames. */
import {
  difference,
  EMPTY,
  firstOf,
  type FrameSet,
  intersection,
  lastOf,
  rangeSet,
  union,
} from "../frames/frame-set";
import { parsePhrase } from "../frames/phrase";
import { numbersOfStretch, type TimeLine, timeLineNumbers, type Timing } from "../plan/scene-time";
import type { EditClip, EditList } from "./edit-list";

/** The use of one shot as it is kept: phrases of scene frames. */
export interface EditUse {
  /** As the list's file or title says. */
  readonly editName: string;
  readonly frames: string;
  /** Of the edit before this one; null for the first. */
  readonly previousFrames: string | null;
}

export interface ShotUse {
  /** Of the shot. */
  readonly code: string;
  /** Clips of the list that show it. */
  readonly clips: number;
  /** Scene frames that they show. */
  readonly frames: FrameSet;
  /** Of these, what lies outside the shot's time line. */
  readonly outside: FrameSet;
}

/**
 * True when a clip's name means a shot: its code, alone or with something behind it that is no letter or
 * digit (HL010_v003.mov).
 */
export function meansShot(name: string, code: string): boolean {
  const [a, b] = [name.toUpperCase(), code.toUpperCase()];
  return a.startsWith(b) && !/[A-Z0-9]/.test(a[b.length] ?? "");
}

/** The shot that a clip means; of HL010 and HL010_020 the longer one where both would do. */
export function shotMeant<S extends { readonly code: string }>(
  clip: Pick<EditClip, "names">,
  shots: readonly S[],
): S | undefined {
  for (const name of clip.names) {
    const meant = shots.filter((shot) => meansShot(name, shot.code));
    if (meant.length > 0) return meant.sort((a, b) => b.code.length - a.code.length)[0];
  }
  return undefined;
}

/**
 * Scene frames of a clip. Source time code counts either as the frames are numbered, or from 0 at the first
 * one; which, is seen from where the clip lies.
 */
export function sceneFramesOf(clip: Pick<EditClip, "first" | "end">, timeLine: TimeLine): FrameSet {
  const numbered = rangeSet(clip.first, clip.end - 1);
  const all = rangeSet(timeLine.first, timeLine.last);
  if (intersection(numbered, all).count > 0) return numbered;
  const counted = rangeSet(timeLine.first + clip.first, timeLine.first + clip.end - 1);
  return intersection(counted, all).count > 0 ? counted : numbered;
}

/** Uses of each shot that the edit names, and the clips that mean none. */
export function matchEdit(
  edit: Pick<EditList, "clips">,
  shots: readonly { readonly code: string; readonly timeLine: TimeLine }[],
): { readonly uses: readonly ShotUse[]; readonly unmatched: readonly EditClip[] } {
  const uses = new Map<string, { clips: number; frames: FrameSet; timeLine: TimeLine }>();
  const unmatched: EditClip[] = [];
  for (const clip of edit.clips) {
    const shot = shotMeant(clip, shots);
    if (shot === undefined) {
      unmatched.push(clip);
      continue;
    }
    const before = uses.get(shot.code) ?? { clips: 0, frames: EMPTY, timeLine: shot.timeLine };
    uses.set(shot.code, {
      ...before,
      clips: before.clips + 1,
      frames: union(before.frames, sceneFramesOf(clip, shot.timeLine)),
    });
  }
  return {
    uses: [...uses].map(([code, { clips, frames, timeLine }]) => ({
      code,
      clips,
      frames,
      outside: difference(frames, rangeSet(timeLine.first, timeLine.last)),
    })),
    unmatched,
  };
}

/** Phrases that were written by us: one that cannot be read is taken for none. */
export const setOfPhrase = (phrase: string): FrameSet => {
  const read = parsePhrase(phrase);
  return read.ok ? read.set : EMPTY;
};

/** File numbers of scene frames at a plan's rate and offset. */
export function numbersOfSceneFrames(frames: FrameSet, timing: Timing): FrameSet {
  let numbers: FrameSet = EMPTY;
  for (const run of frames.runs) numbers = union(numbers, numbersOfStretch(timing, run.first, run.last));
  return numbers;
}

/** File numbers of the scene frames that an edit uses; those that no file stands for are left out. */
export const usedNumbers = (use: EditUse, timing: Timing): FrameSet =>
  numbersOfSceneFrames(setOfPhrase(use.frames), timing);

/** What a later edit shows that the one before did not. */
export const newlyUsed = (use: EditUse, timing: Timing): FrameSet =>
  use.previousFrames === null
    ? EMPTY
    : numbersOfSceneFrames(difference(setOfPhrase(use.frames), setOfPhrase(use.previousFrames)), timing);

/** Frames that a cutter asks for most often, before and behind what is used. */
export const USUAL_HANDLES = 8;

/** Used frames with `handles` more on each side of the whole, kept inside the time line. */
export function withHandles(used: FrameSet, handles: number, timing: Timing): FrameSet {
  const [first, last] = [firstOf(used), lastOf(used)];
  if (first === null || last === null) return used;
  const all = timeLineNumbers(timing);
  return rangeSet(Math.max(all.first, first - handles), Math.min(all.last, last + handles));
}
