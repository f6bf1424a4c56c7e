/**
 * From the number of a file to the time in the scene. A plan at the scene's own rate takes each whole
 * frame; one at another rate keeps the duration and takes times between frames:
 *
 *     time = first + (number - offset - first) x scene rate / plan rate
 */
import { difference, EMPTY, type FrameSet, firstOf, lastOf, rangeSet, shifted } from "../frames/frame-set";
import { formatPhrase, parsePhrase, rangePhrase, writtenRange } from "../frames/phrase";
import { isSameRate, type Rate, retimedCount } from "../timing/rate";

export interface TimeLine {
  /** Scene frames, both inclusive. */
  readonly first: number;
  readonly last: number;
  /** That the scene was made for. */
  readonly rate: Rate;
}

export interface Timing {
  readonly timeLine: TimeLine;
  /** Of the pictures. */
  readonly rate: Rate;
  /** File number less scene frame. */
  readonly offset: number;
}

/** Scene frames that one file number is worth. */
export const framesAStep = ({ timeLine, rate }: Timing): number =>
  (timeLine.rate.numerator * rate.denominator) / (timeLine.rate.denominator * rate.numerator);

/** Time in the scene, in its own frames, of a file number; a fraction where the rates differ. */
export function sceneTime(timing: Timing, number: number): number {
  const {
    timeLine: { first },
    offset,
  } = timing;
  return isSameRate(timing.timeLine.rate, timing.rate)
    ? number - offset
    : first + (number - offset - first) * framesAStep(timing);
}

/** File numbers of the whole time line. */
export function timeLineNumbers(timing: Timing): { readonly first: number; readonly last: number } {
  const { first, last, rate } = timing.timeLine;
  return {
    first: first + timing.offset,
    last: first + timing.offset + retimedCount(last - first + 1, rate, timing.rate) - 1,
  };
}

/** File numbers of a stretch of scene frames first..last at the plan's rate. */
export function numbersOfStretch(timing: Timing, first: number, last: number): FrameSet {
  const step = framesAStep(timing);
  const from = Math.ceil((first - timing.timeLine.first) / step - 1e-9);
  const to = Math.floor((last + 1 - timing.timeLine.first) / step - 1e-9);
  const base = timing.timeLine.first + timing.offset;
  return to < from ? EMPTY : rangeSet(base + from, base + to);
}

/**
 * The frames of a plan carried over to another rate or offset: the same stretch of the scene, whole. Steps
 * and holes are kept only where neither changes the count.
 */
export function retimeFrames(asked: FrameSet, from: Timing, to: Timing): FrameSet {
  const first = firstOf(asked);
  const last = lastOf(asked);
  if (first === null || last === null) return asked;
  if (isSameRate(from.rate, to.rate)) return shifted(asked, to.offset - from.offset);
  const step = framesAStep(from);
  const begin = sceneTime(from, first);
  const base = to.timeLine.first + to.offset;
  const start = base + Math.round((begin - to.timeLine.first) / framesAStep(to));
  return rangeSet(start, start + Math.max(1, Math.round(((last - first + 1) * step) / framesAStep(to))) - 1);
}

/** The same of the phrase itself: a range keeps its ends where only its numbers move. */
export function retimePhrase(phrase: string, from: Timing, to: Timing): string {
  const asked = parsePhrase(phrase);
  if (!asked.ok) return phrase;
  const range = isSameRate(from.rate, to.rate) ? writtenRange(phrase) : null;
  const by = to.offset - from.offset;
  return range === null
    ? formatPhrase(retimeFrames(asked.set, from, to))
    : rangePhrase({ ...range, first: range.first + by, last: range.last + by });
}

/** Asked numbers whose scene time lies outside the time line. */
export function outsideTimeLine(asked: FrameSet, timing: Timing): FrameSet {
  const { first, last } = timeLineNumbers(timing);
  return difference(asked, rangeSet(first, last));
}
