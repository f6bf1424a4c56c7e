/**
 * Blocks that change and change back: of the whole picture a pop, of a region a flicker. A burst is one to four
 * frames that differ from the frame before and from the frame behind, while these two agree. What moves through
 * the picture strikes a block too, and the blocks beside it just before or just behind: that is no fault.
 */
import { median } from "../many";
import type { Sketch } from "../image/sketch";
import type { Thresholds } from "./odd";

/** Frames of the longest burst. */
export const LONGEST_BURST = 4;
/** Frames on each side that say what change is usual. */
const REACH = 6;
/** So many times less than others near it, a step is none. */
const STILL = 3;
/** A burst differs from both sides so many times more than these from one another. */
const AGREE = 2;
/** Of the whole picture, the median block changes so many times more than is usual. */
const WHOLE = 3;
/**
 * A change of a part, times the root of its blocks, is so many least changes: an edge that sways over the border of a
 * block and back is small and faint at once.
 */
const EVIDENCE = 5;
/** Frames before and behind a burst in which its blocks, and those beside them, change by less than such a part of it. */
const ALONE = 4;
const PART = 3;

export interface Burst {
  /** Index of its first frame, and how many it has. */
  readonly at: number;
  readonly length: number;
  readonly isWhole: boolean;
  readonly blocks: readonly number[];
  /** Mean change of its blocks, and what would be usual; shares of white. */
  readonly value: number;
  readonly expected: number;
}

/** The largest of three. */
const most = (a: number, b: number, c: number): number => (a > b ? (a > c ? a : c) : b > c ? b : c);

/** Of each block the change of its colour that changed most, as a share of white. Sketches of one size. */
export function changeOf(a: Sketch, b: Sketch): Float32Array {
  const out = new Float32Array(a.columns * a.rows);
  for (let block = 0, i = 0; block < out.length; block++, i += 3)
    out[block] =
      most(
        Math.abs(a.values[i]! - b.values[i]!),
        Math.abs(a.values[i + 1]! - b.values[i + 1]!),
        Math.abs(a.values[i + 2]! - b.values[i + 2]!),
      ) / 65_535;
  return out;
}

export const meanOf = (values: Float32Array): number =>
  values.length === 0 ? 0 : values.reduce((sum, v) => sum + v, 0) / values.length;

const isAlike = (a: Sketch, b: Sketch): boolean => a.columns === b.columns && a.rows === b.rows;

/** Changes from each frame to the next; null where the sizes differ. `steps[i]` leads to frame i. */
export const stepsOf = (sketches: readonly Sketch[]): readonly (Float32Array | null)[] =>
  sketches.map((sketch, i) =>
    i === 0 || !isAlike(sketch, sketches[i - 1]!) ? null : changeOf(sketches[i - 1]!, sketch),
  );

/** Whether the median block jumps into a burst and out of it, and is what it was behind it. */
function isWholeJump(
  wholes: readonly number[],
  at: number,
  length: number,
  leastChange: number,
  back: number,
): boolean {
  const jump = Math.min(wholes[at]!, wholes[at + length]!);
  if (jump <= leastChange || jump <= AGREE * back) return false;
  const near = wholes.filter(
    (_, k) => Math.abs(k - at) <= REACH + length && k > 0 && (k < at || k > at + length),
  );
  return jump > WHOLE * median(near) && wholes.slice(at + 1, at + length).every((step) => step < jump / 2);
}

/**
 * Of each block the change that is usual near a burst, without the steps into it and out of it, and without those of
 * frames that stand still: in a hold nothing is usual.
 * @param typical the median change of the whole sequence
 */
function usualChange(
  steps: readonly (Float32Array | null)[],
  wholes: readonly number[],
  typical: number,
  at: number,
  length: number,
): (block: number) => number {
  const around: number[] = [];
  for (let k = Math.max(1, at - REACH); k <= Math.min(steps.length - 1, at + length + REACH); k++)
    if ((k < at || k > at + length) && steps[k] != null) around.push(k);
  const moving = around.reduce((top, k) => Math.max(top, wholes[k]!), 0) / STILL;
  const near = around.filter((k) => wholes[k]! >= Math.min(moving, typical)).map((k) => steps[k]!);
  return (block) => median(near.map((step) => step[block]!));
}

/** Blocks beside one, corners too. */
function* beside(block: number, columns: number, rows: number): Generator<number> {
  const [x, y] = [block % columns, Math.floor(block / columns)];
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++)
      if ((dx !== 0 || dy !== 0) && x + dx >= 0 && x + dx < columns && y + dy >= 0 && y + dy < rows)
        yield (y + dy) * columns + x + dx;
}

/**
 * Whether nothing else goes on at some blocks just before and just behind a burst, or within it. What moves through
 * the picture changes a block and the ones beside it one after the other; a wrong texture changes them at one moment.
 * @param wholes of each step the median change of all blocks: cuts are no motion
 */
function isAlone(
  steps: readonly (Float32Array | null)[],
  wholes: readonly number[],
  at: number,
  length: number,
  jump: number,
  blocks: readonly number[],
): boolean {
  for (let k = Math.max(1, at - ALONE); k <= Math.min(steps.length - 1, at + length + ALONE); k++) {
    const step = steps[k];
    if (k === at || k === at + length || step == null || wholes[k]! > jump / PART) continue;
    if (blocks.some((block) => step[block]! > jump / PART)) return false;
  }
  return true;
}

/** What leads into some frames and out of them, and whether both sides agree. */
interface Stretch {
  readonly at: number;
  readonly length: number;
  readonly enter: Float32Array;
  readonly leave: Float32Array;
  /** From the frame before to the frame behind. */
  readonly back: Float32Array;
  readonly columns: number;
  readonly rows: number;
}

/** Bursts of a sequence, by their first frame; none within another, and those of the whole picture first. */
export function burstsOf(
  sketches: readonly Sketch[],
  steps: readonly (Float32Array | null)[],
  { change, leastChange }: Pick<Thresholds, "change" | "leastChange">,
): readonly Burst[] {
  const wholes = steps.map((step) => (step === null ? 0 : median([...step])));
  const typical = median(wholes.slice(1));
  const found: Burst[] = [];
  const taken = new Set<number>();

  const stretchOf = (at: number, length: number): Stretch | null => {
    const [before, behind] = [sketches[at - 1]!, sketches[at + length]!];
    const [enter, leave] = [steps[at], steps[at + length]];
    if (enter == null || leave == null || !isAlike(before, behind)) return null;
    for (let i = at - 1; i <= at + length; i++) if (taken.has(i)) return null;
    const { columns, rows } = before;
    return { at, length, enter, leave, back: changeOf(before, behind), columns, rows };
  };
  const wholeOf = ({ at, length, back }: Stretch): readonly number[] =>
    isWholeJump(wholes, at, length, leastChange, median([...back])) ? [...back.keys()] : [];
  const regionOf = ({ at, length, enter, leave, back, columns, rows }: Stretch): readonly number[] => {
    const jumps = enter.map((value, block) => Math.min(value, leave[block]!));
    // Most frames have no block that changes at all.
    if (!jumps.some((jump) => jump > leastChange)) return [];
    const usual = usualChange(steps, wholes, typical, at, length);
    // The cheap questions first: hardly a block is left for the last.
    const struck = [...jumps.keys()].filter(
      (block) =>
        jumps[block]! > leastChange &&
        jumps[block]! > AGREE * back[block]! &&
        jumps[block]! > leastChange + change * usual(block) &&
        isAlone(steps, wholes, at, length, jumps[block]!, [block, ...beside(block, columns, rows)]),
    );
    const sum = struck.reduce((total, block) => total + jumps[block]!, 0);
    return sum > EVIDENCE * leastChange * Math.sqrt(struck.length) ? struck : [];
  };

  for (const isWhole of [true, false])
    for (let length = 1; length <= LONGEST_BURST; length++)
      for (let at = 1; at + length < sketches.length; at++) {
        const stretch = stretchOf(at, length);
        if (stretch === null) continue;
        const blocks = isWhole ? wholeOf(stretch) : regionOf(stretch);
        if (blocks.length === 0) continue;
        const mean = (of: (block: number) => number): number =>
          blocks.reduce((sum, block) => sum + of(block), 0) / blocks.length;
        const { enter, leave } = stretch;
        found.push({
          at,
          length,
          isWhole,
          blocks,
          value: Math.min(
            mean((block) => enter[block]!),
            mean((block) => leave[block]!),
          ),
          expected: mean(usualChange(steps, wholes, typical, at, length)),
        });
        for (let i = at; i < at + length; i++) taken.add(i);
      }
  return found.sort((a, b) => a.at - b.at);
}
