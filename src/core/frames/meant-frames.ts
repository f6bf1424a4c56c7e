/**
 * What a text may have been meant to be where it names no frames here: a length (`80s`, `1m20s`), a clock time that
 * can be read two ways (`1:20`), a stretch of the shot where only numbers are kept, or the numbers of another counting
 * (`55-57` in a shot that begins at 1001).
 * It is offered and never taken: frames cost hours.
 */
import type { Rate } from "../timing/rate";
import { firstOf, type FrameSet, lastOf } from "./frame-set";
import { formatPhrase, type NameResolver, parsePhrase, rangePhrase } from "./phrase";

/** A phrase that says it plainly, and in which words it was meant. */
export interface MeantPhrase {
  readonly words: string;
  readonly phrase: string;
}

export type MeantFrames =
  | { readonly kind: "stretch"; readonly meant: MeantPhrase }
  | { readonly kind: "length"; readonly meant: MeantPhrase }
  | { readonly kind: "two-readings"; readonly readings: readonly MeantPhrase[] }
  | { readonly kind: "shifted"; readonly by: number; readonly meant: MeantPhrase };

/** First and last file number of the time line. */
export interface LineEnds {
  readonly first: number;
  readonly last: number;
}

const LENGTH =
  /^(?:(\d{1,3})\s*h)?\s*(?:(\d{1,4})\s*m(?:in)?)?\s*(?:(\d{1,6}(?:[.,]\d{1,3})?)\s*s(?:ec)?)?$/i;
/** Minutes and seconds, or seconds and frames. */
const CLOCK = /^(\d{1,4}):(\d{1,2})$/;
/** Shots are numbered from a round number up, or from 1. */
const ROUND = 1_000;

const inWords = (seconds: number): string => {
  const [m, s] = [Math.floor(seconds / 60), Math.round((seconds % 60) * 1000) / 1000];
  return [m > 0 ? `${m} min` : "", s > 0 || m === 0 ? `${s} s` : ""].filter((part) => part !== "").join(" ");
};

/** So many frames from the first of the line on. */
const fromFirst = (count: number, { first }: LineEnds): string =>
  rangePhrase({ first, last: first + count - 1, step: 1 });

/** Frames in so many seconds, to the nearest. */
const framesIn = (seconds: number, { numerator, denominator }: Rate): number =>
  Math.round((seconds * numerator) / denominator);

function asLength(text: string, line: LineEnds, rate: Rate): MeantFrames | null {
  const [, h, m, s] = LENGTH.exec(text) ?? [];
  if (h === undefined && m === undefined && s === undefined) return null;
  const seconds = Number(h ?? 0) * 3600 + Number(m ?? 0) * 60 + Number((s ?? "0").replace(",", "."));
  const count = framesIn(seconds, rate);
  return count < 1
    ? null
    : {
        kind: "length",
        meant: {
          words: `${inWords(seconds)} from the beginning, ${count} frames`,
          phrase: fromFirst(count, line),
        },
      };
}

function asClock(text: string, line: LineEnds, rate: Rate): MeantFrames | null {
  const [, a, b] = CLOCK.exec(text) ?? [];
  if (a === undefined || b === undefined) return null;
  const [first, second] = [Number(a), Number(b)];
  const readings = [
    { words: inWords(first * 60 + second), count: framesIn(first * 60 + second, rate) },
    { words: `${first} s and ${second} frames`, count: framesIn(first, rate) + second },
  ].filter(({ count }) => count > 0);
  return {
    kind: "two-readings",
    readings: readings.map(({ words, count }) => ({
      words: `${words}, ${count} frames`,
      phrase: fromFirst(count, line),
    })),
  };
}

/** The same numbers further up, where all of them then lie on the line. */
function asShifted(set: FrameSet, { first, last }: LineEnds): MeantFrames | null {
  const [least, most] = [firstOf(set), lastOf(set)];
  if (least === null || most === null || least < 0 || most >= first) return null;
  const by = [Math.floor(first / ROUND) * ROUND, first - 1, first].find(
    (shift) => shift > 0 && least + shift >= first && most + shift <= last,
  );
  if (by === undefined) return null;
  const moved = formatPhrase({
    ...set,
    runs: set.runs.map((run) => ({ ...run, first: run.first + by, last: run.last + by })),
  });
  return { kind: "shifted", by, meant: { words: moved, phrase: moved } };
}

/**
 * @param line of the shot, in numbers of files
 * @param rate of its files
 * @param names of its stretches, where the text may not use them itself; null where it may
 * @returns null where the text names frames that are there, or nothing can be made of it
 */
export function meantFrames(
  text: string,
  line: LineEnds,
  rate: Rate,
  names: NameResolver | null = null,
): MeantFrames | null {
  const trimmed = text.trim();
  const read = parsePhrase(trimmed);
  if (read.ok) return asShifted(read.set, line);
  const named = names === null ? null : parsePhrase(trimmed, names);
  if (named?.ok && named.set.count > 0) {
    const phrase = formatPhrase(named.set);
    return { kind: "stretch", meant: { words: phrase, phrase } };
  }
  return asLength(trimmed, line, rate) ?? asClock(trimmed, line, rate);
}
