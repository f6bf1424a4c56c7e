/**
 * Frames as the arrays of a batch system. The index of a task is the number of its frame wherever that can be, so that
 * whoever looks at the batch system's own lists reads frames; where frames are below zero or above what an array may hold, it is
 * the number less a shift. Syntax of the indices as Slurm takes them: `55-57,77,90-96:2`.
 */
import type { Run } from "../frames/frame-runs";
import { difference, type FrameSet, firstOf, runCount, shifted, unionAll, within } from "../frames/frame-set";

/** What becomes one array job. */
export interface ArrayChunk {
  readonly frames: FrameSet;
  /** The frame less its index. */
  readonly shift: number;
  /** Exactly the frames, as indices. */
  readonly indices: string;
}

/** The batch system refuses longer ones: 4 KB, with what is around them. */
const LONGEST = 4_000;

/** A stretch with a step; two members are no shorter that way. */
function term({ first, last, step }: Run): string {
  if (first === last) return `${first}`;
  if (step === 1) return `${first}-${last}`;
  return first + step === last ? `${first},${last}` : `${first}-${last}:${step}`;
}

/** As many of the first runs as make indices of a length that is taken. */
function writeIndices(frames: FrameSet, shift: number): ArrayChunk {
  const terms: string[] = [];
  const runs: Run[] = [];
  let length = 0;
  for (const run of shifted(frames, -shift).runs) {
    const text = term(run);
    length += text.length + 1;
    if (length > LONGEST) break;
    terms.push(text);
    runs.push(run);
  }
  const kept = unionAll(runs.map((run) => ({ runs: [run], count: runCount(run) })));
  return { frames: shifted(kept, shift), shift, indices: terms.join(",") };
}

/**
 * Every frame in exactly one chunk, ascending.
 * @param largestIndex that an array may have: MaxArraySize less one
 */
export function arrayChunks(frames: FrameSet, largestIndex: number): ArrayChunk[] {
  const chunks: ArrayChunk[] = [];
  let rest = frames;
  for (let first = firstOf(rest); first !== null; first = firstOf(rest)) {
    // From 1 on where it is shifted: an index of zero is easily taken for none.
    const shift = first >= 0 && first <= largestIndex ? 0 : first - 1;
    const chunk = writeIndices(within(rest, first, largestIndex + shift), shift);
    chunks.push(chunk);
    rest = difference(rest, chunk.frames);
  }
  return chunks;
}
