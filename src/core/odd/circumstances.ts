/** How frames came to be, in groups: which call of a renderer made them, in which hour, and what was warned of meanwhile. */
import { type FrameSet, setOf } from "../frames/frame-set";
import { groupBy } from "../many";

/** The attempt that made a frame's file. */
export interface MadeBy {
  readonly frame: number;
  readonly node: string;
  /** Milliseconds since 1970, and so below. */
  readonly startedMs: number;
  /** The renderer was started for it, and not kept from the frame before. */
  readonly isFirstOfCall: boolean;
}

export interface Call {
  readonly node: string;
  readonly fromMs: number;
  readonly frames: FrameSet;
}

/** Calls that made several frames. @param made in the order in which each node began them */
export function callsOf(made: readonly MadeBy[]): readonly Call[] {
  const calls: Call[] = [];
  for (const [node, own] of groupBy(made, (one) => one.node)) {
    let frames: number[] = [];
    let fromMs = 0;
    const end = (): void => {
      if (frames.length > 1) calls.push({ node, fromMs, frames: setOf(frames) });
    };
    for (const { frame, startedMs, isFirstOfCall } of own) {
      if (isFirstOfCall || frames.length === 0) {
        end();
        [frames, fromMs] = [[], startedMs];
      }
      frames.push(frame);
    }
    end();
  }
  return calls;
}

const HOUR_MS = 3_600_000;

/** @param offsetMs of the clock on the wall to that of the world: hours of some places begin at the half */
export const hoursOf = (
  files: readonly { readonly frame: number; readonly modifiedMs: number }[],
  offsetMs: number,
): readonly { readonly fromMs: number; readonly frames: FrameSet }[] =>
  [
    ...groupBy(files, ({ modifiedMs }) => Math.floor((modifiedMs + offsetMs) / HOUR_MS) * HOUR_MS - offsetMs),
  ].map(([fromMs, own]) => ({ fromMs, frames: setOf(own.map(({ frame }) => frame)) }));

/** A line less what is each frame's own: its numbers. */
const kindOfLine = (text: string): string => text.replace(/\d+(?:[.,:]\d+)*/g, "…").trim();

/** Said of more than one frame. */
export const warningsOf = (
  lines: readonly { readonly frame: number; readonly text: string }[],
): readonly { readonly text: string; readonly frames: FrameSet }[] =>
  [...groupBy(lines, ({ text }) => kindOfLine(text))]
    .map(([text, own]) => ({ text, frames: setOf(own.map(({ frame }) => frame)) }))
    .filter(({ frames }) => frames.count > 1);
