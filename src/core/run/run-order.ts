/**
 * In which order the frames of a run are rendered.
 * The order decides what is there if the night is too short: it never decides what a picture is. Every
 * order is a permutation of the frames, each once.
 */
import { difference, EMPTY, type FrameSet, intersection, members, union } from "../frames/frame-set";

/** In the order in which the page offers them. */
export const RUN_ORDERS = ["first-to-last", "coarse-to-fine", "ends-first", "as-written"] as const;
export type RunOrder = (typeof RUN_ORDERS)[number];

/** Widest step of coarse to fine: the whole motion is seen after a sixteenth of the frames. */
const COARSEST = 16;

/**
 * Frames in the order of a run, each once. Steps are counted along the set, not along the numbers,
 * so that a set with a step of its own is thinned alike.
 * @param terms what was written, one set a term, for `as-written`; frames of no term come last
 */
export function orderFrames(frames: FrameSet, order: RunOrder, terms: readonly FrameSet[] = []): number[] {
  const all = [...members(frames)];
  switch (order) {
    case "first-to-last":
      return all;
    case "ends-first":
      return all.map((_, i) => all[i % 2 === 0 ? i / 2 : all.length - (i + 1) / 2]!);
    case "coarse-to-fine": {
      const picked: number[] = [];
      for (let step = COARSEST; step >= 1; step /= 2) {
        for (let i = 0; i < all.length; i += step)
          if (step === COARSEST || i % (step * 2) !== 0) picked.push(all[i]!);
        // The end belongs to the first look, wherever the step falls.
        if (step === COARSEST && (all.length - 1) % COARSEST !== 0 && all.length > 0)
          picked.push(all.at(-1)!);
      }
      return [...new Set(picked)];
    }
    case "as-written": {
      let taken = EMPTY;
      const picked: number[] = [];
      for (const term of [...terms, frames]) {
        const fresh = difference(intersection(term, frames), taken);
        for (const frame of members(fresh)) picked.push(frame);
        taken = union(taken, fresh);
      }
      return picked;
    }
  }
}
