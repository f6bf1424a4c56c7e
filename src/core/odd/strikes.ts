/**
 * Where blocks change and change back, before anybody has said by how much they may: of one to four frames that differ
 * from the frame before and from the frame behind, while these two agree. What moves through the picture strikes a
 * block too, and the blocks beside it just before or just behind: such are left out. All of it is worked out once for
 * the files that are there.
 */
import { median } from "../many";
import type { Sketch } from "../image/sketch";
import { changeOf, changeOfBlock, isAlike } from "./change";
import { THRESHOLD_BOUNDS } from "./odd";

/** Frames of the longest burst. */
export const LONGEST_BURST = 4;
/** Frames on each side that say what change is usual. */
const REACH = 6;
/** Of fewer other steps near a burst nothing is usual, and nothing is off. */
const LEAST_NEAR = 2;
/** So many times less than others near it, a step is none. */
const STILL = 3;
/** A burst differs from both sides so many times more than these from one another. */
const AGREE = 2;
/** Of the whole picture, the median block changes so many times more than is usual. */
const WHOLE = 3;
/** Frames before and behind a burst in which its blocks, and those beside them, change by less than such a part of it. */
const ALONE = 4;
const PART = 3;
/** A change below is none, whatever is asked. */
const [LEAST] = THRESHOLD_BOUNDS.leastChange;

/** How a sequence changes from each frame to the next. */
export interface Steps {
  /** Of each block, the step that leads to a frame; null where there is none to compare. */
  readonly steps: readonly (Float32Array | null)[];
  /** Of each step the median block; 0 without one. */
  readonly wholes: readonly number[];
}

/** Blocks that differ in some frames, and in none near them. */
export interface Strike {
  /** Index of its first frame, and how many it has. */
  readonly at: number;
  readonly length: number;
  readonly blocks: Uint16Array;
  /** Of each block, the smaller of the steps into it and out of it, and the step that is usual; shares of white. */
  readonly jumps: Float32Array;
  readonly usual: Float32Array;
}

/** The whole picture differs in some frames, and in none near them. */
export interface WholeStrike {
  readonly at: number;
  readonly length: number;
  /** Of the median block. */
  readonly jump: number;
}

export interface Strikes {
  /** Each by length, then by their first frame. */
  readonly wholes: readonly WholeStrike[];
  readonly parts: readonly Strike[];
}

/** Whether the median block jumps into a burst and out of it, and is what it was behind it. */
function isWholeJump(
  wholes: readonly number[],
  at: number,
  length: number,
  jump: number,
  back: () => number,
): boolean {
  if (jump <= LEAST) return false;
  const near: number[] = [];
  for (let k = Math.max(1, at - REACH - length); k <= Math.min(wholes.length - 1, at + REACH + length); k++)
    if (k < at || k > at + length) near.push(wholes[k]!);
  return (
    near.length >= LEAST_NEAR &&
    jump > WHOLE * median(near) &&
    jump > AGREE * back() &&
    wholes.slice(at + 1, at + length).every((step) => step < jump / 2)
  );
}

/**
 * Steps near a burst that say what is usual, without the ones into it and out of it, and without those of frames that
 * stand still: in a hold nothing is usual.
 * @param typical the median change of the whole sequence
 */
function stepsNear({ steps, wholes }: Steps, typical: number, at: number, length: number): Float32Array[] {
  const around: number[] = [];
  for (let k = Math.max(1, at - REACH); k <= Math.min(steps.length - 1, at + length + REACH); k++)
    if ((k < at || k > at + length) && steps[k] != null) around.push(k);
  const moving = around.reduce((top, k) => Math.max(top, wholes[k]!), 0) / STILL;
  return around.filter((k) => wholes[k]! >= Math.min(moving, typical)).map((k) => steps[k]!);
}

/** Of each block of a grid itself and the blocks beside it, corners too. */
function besides(columns: number, rows: number): readonly (readonly number[])[] {
  return Array.from({ length: columns * rows }, (_, block) => {
    const [x, y] = [block % columns, Math.floor(block / columns)];
    const own = [block];
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++)
        if ((dx !== 0 || dy !== 0) && x + dx >= 0 && x + dx < columns && y + dy >= 0 && y + dy < rows)
          own.push((y + dy) * columns + x + dx);
    return own;
  });
}

/**
 * Whether nothing else goes on at some blocks just before and just behind a burst, or within it. What moves through
 * the picture changes a block and the ones beside it one after the other; a wrong texture changes them at one moment.
 * Cuts are no motion.
 */
function isAlone(
  { steps, wholes }: Steps,
  at: number,
  length: number,
  jump: number,
  blocks: readonly number[],
): boolean {
  const part = jump / PART;
  const last = Math.min(steps.length - 1, at + length + ALONE);
  for (let k = Math.max(1, at - ALONE); k <= last; k++) {
    const step = steps[k];
    if (k === at || k === at + length || step == null || wholes[k]! > part) continue;
    for (let i = 0; i < blocks.length; i++) if (step[blocks[i]!]! > part) return false;
  }
  return true;
}

/** Blocks beside each other, worked out once for each grid: all frames of a sequence mostly have one. */
class Near {
  readonly #known = new Map<string, readonly (readonly number[])[]>();

  of({ columns, rows }: Pick<Sketch, "columns" | "rows">): readonly (readonly number[])[] {
    const key = `${columns} ${rows}`;
    const known = this.#known.get(key) ?? besides(columns, rows);
    this.#known.set(key, known);
    return known;
  }
}

/** Null where no block of it is struck. */
function strikeAt(
  sketches: readonly Sketch[],
  motion: Steps,
  typical: number,
  near: Near,
  at: number,
  length: number,
): Strike | null {
  const { steps, wholes } = motion;
  const [before, behind] = [sketches[at - 1]!, sketches[at + length]!];
  const [enter, leave] = [steps[at]!, steps[at + length]!];
  // Just before and within: most blocks that change do so because something goes on, and are asked nothing more.
  const ahead = at > 1 ? (steps[at - 1] ?? null) : null;
  const inside = length > 1 ? (steps[at + 1] ?? null) : null;
  const aheadWhole = wholes[at - 1]!;
  const insideWhole = wholes[at + 1]!;
  const around = near.of(before);
  let usualSteps: Float32Array[] | null = null;
  const blocks: number[] = [];
  const jumps: number[] = [];
  const usual: number[] = [];
  for (let block = 0; block < enter.length; block++) {
    const into = enter[block]!;
    const out = leave[block]!;
    const jump = into < out ? into : out;
    if (jump <= LEAST) continue;
    const part = jump / PART;
    if (ahead !== null && aheadWhole <= part && ahead[block]! > part) continue;
    if (inside !== null && insideWhole <= part && inside[block]! > part) continue;
    if (
      jump <= AGREE * changeOfBlock(before, behind, block) ||
      !isAlone(motion, at, length, jump, around[block]!)
    )
      continue;
    usualSteps ??= stepsNear(motion, typical, at, length);
    if (usualSteps.length < LEAST_NEAR) return null;
    blocks.push(block);
    jumps.push(jump);
    usual.push(median(usualSteps.map((step) => step[block]!)));
  }
  return blocks.length === 0
    ? null
    : {
        at,
        length,
        blocks: Uint16Array.from(blocks),
        jumps: Float32Array.from(jumps),
        usual: Float32Array.from(usual),
      };
}

/** In slices of a frame each, so that whoever has other things to do may do them in between. */
export function* strikesOf(sketches: readonly Sketch[], motion: Steps): Generator<undefined, Strikes> {
  const { steps, wholes } = motion;
  const typical = median(wholes.slice(1));
  const near = new Near();
  const found: { wholes: WholeStrike[]; parts: Strike[] } = { wholes: [], parts: [] };
  for (let length = 1; length <= LONGEST_BURST; length++)
    for (let at = 1; at + length < sketches.length; at++) {
      yield;
      const [before, behind] = [sketches[at - 1]!, sketches[at + length]!];
      if (steps[at] == null || steps[at + length] == null || !isAlike(before, behind)) continue;
      const jump = Math.min(wholes[at]!, wholes[at + length]!);
      if (isWholeJump(wholes, at, length, jump, () => median([...changeOf(before, behind)])))
        found.wholes.push({ at, length, jump });
      const strike = strikeAt(sketches, motion, typical, near, at, length);
      if (strike !== null) found.parts.push(strike);
    }
  return found;
}
