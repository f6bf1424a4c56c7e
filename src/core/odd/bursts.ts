/** Which of the blocks that change and change back do so by more than they may: all of a picture, a pop; a part, a flicker. */
import type { Thresholds } from "./odd";
import type { Motion } from "./profile";
import type { Strike } from "./strikes";

/**
 * A change of a part, times the root of its blocks, is so many least changes: an edge that sways over the border of a
 * block and back is small and faint at once.
 */
const EVIDENCE = 5;

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

const meanOver = (step: Float32Array, blocks: readonly number[]): number =>
  blocks.reduce((sum, block) => sum + step[block]!, 0) / blocks.length;

const NONE: number[] = [];

/** Positions in a strike of the blocks that change by more than they may; none where that is too little to tell. */
function struckOf(
  { blocks, jumps, usual }: Strike,
  { change, leastChange }: Pick<Thresholds, "change" | "leastChange">,
): readonly number[] {
  let struck: number[] = NONE;
  let sum = 0;
  for (let i = 0; i < blocks.length; i++) {
    if (jumps[i]! <= leastChange + change * usual[i]!) continue;
    // Of thousands of strikes hardly one is struck.
    if (struck === NONE) struck = [];
    struck.push(i);
    sum += jumps[i]!;
  }
  return sum > EVIDENCE * leastChange * Math.sqrt(struck.length) ? struck : [];
}

/** By their first frame; none within another, and those of the whole picture first. */
export function burstsOf(
  { steps, usualMean, strikes }: Pick<Motion, "steps" | "usualMean" | "strikes">,
  thresholds: Pick<Thresholds, "change" | "leastChange">,
): readonly Burst[] {
  const found: Burst[] = [];
  const taken = new Uint8Array(steps.length + 1);
  const take = (
    { at, length }: { readonly at: number; readonly length: number },
    isWhole: boolean,
    blocks: readonly number[],
    expected: number,
  ): void => {
    const [enter, leave] = [steps[at]!, steps[at + length]!];
    const value = Math.min(meanOver(enter, blocks), meanOver(leave, blocks));
    found.push({ at, length, isWhole, blocks, value, expected });
    taken.fill(1, at, at + length);
  };
  const isFree = ({ at, length }: { readonly at: number; readonly length: number }): boolean => {
    for (let i = at - 1; i <= at + length; i++) if (taken[i] === 1) return false;
    return true;
  };
  for (const whole of strikes.wholes)
    if (whole.jump > thresholds.leastChange && isFree(whole))
      take(whole, true, [...steps[whole.at]!.keys()], usualMean[whole.at]!);
  for (const strike of strikes.parts) {
    const struck = struckOf(strike, thresholds);
    if (struck.length === 0 || !isFree(strike)) continue;
    const usual = struck.reduce((sum, i) => sum + strike.usual[i]!, 0) / struck.length;
    take(
      strike,
      false,
      struck.map((i) => strike.blocks[i]!),
      usual,
    );
  }
  return found.sort((a, b) => a.at - b.at);
}
