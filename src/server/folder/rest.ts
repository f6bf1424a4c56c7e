/**
 * When a file that something else writes is at rest. A whole one is whole whenever it is looked at; one that is cut
 * short may be half of what is coming, and is judged once nothing has changed of it for a while.
 */
import { pool } from "../db/pool";
import { unlookedFiles } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";

/** Nothing has changed for so long: programs write a picture in one go, shares in a few. */
export const REST_MS = 4_000;
/** Changed so long ago by its own time: no clock of a share is off by as much, or nobody can say anything. */
const OLD_MS = 60_000;

/** Frames whose files are not judged yet, and how long each still has to rest. */
export interface Unrested {
  readonly frames: ReadonlySet<number>;
  /** Until all are at rest; 0 where all are. */
  readonly leftMs: number;
}

/** None of a sequence that we render ourselves: its files appear whole. */
export async function unrestedAmong(sequence: SequenceRow, now = Date.now()): Promise<Unrested> {
  const frames = new Set<number>();
  let leftMs = 0;
  if (sequence.source === null) return { frames, leftMs };
  for (const { frame, modifiedMs, restMs } of await unlookedFiles(pool(), sequence.id)) {
    if (restMs >= REST_MS || now - modifiedMs >= OLD_MS) continue;
    frames.add(frame);
    leftMs = Math.max(leftMs, REST_MS - restMs);
  }
  return { frames, leftMs };
}
