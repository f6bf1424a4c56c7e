/**
 * Which place of a reel is due when. A *place* is a 0-based number in the reel; a *stop* is a place that is shown, every
 * n-th of the range; a *beat* is the time that a stop is shown for: n places' time, so that the motion keeps its speed.
 *
 *     round (loop)            hold · first … last · hold
 *     round (back and forth)  first … last · hold · last but one … second · first · hold
 *
 * Playing backwards is the same round through the stops from the other end. Nothing here counts: a beat has its place,
 * whether or not the beats before it were shown.
 */
import type { Rate } from "../timing/rate";

export const ENDS = ["loop", "back-and-forth", "once"] as const;
/** What happens where the range ends. */
export type Ends = (typeof ENDS)[number];

export interface PlayRound {
  /** Places, both inclusive. */
  readonly first: number;
  readonly last: number;
  /** Every n-th place is a stop, from the first on. */
  readonly every: number;
  readonly ends: Ends;
  /** Beats that an end is shown longer than the others. */
  readonly holdBeats: number;
}

export type Direction = 1 | -1;

const stopsOf = ({ first, last, every }: PlayRound): number =>
  Math.max(1, Math.floor((last - first) / every) + 1);

/** Beats until a round begins again. */
export function roundBeats(round: PlayRound): number {
  const stops = stopsOf(round);
  const moving = round.ends === "back-and-forth" ? Math.max(1, (stops - 1) * 2) : stops;
  return moving + 2 * round.holdBeats;
}

/** Stop of a beat of the round; stops count from the end that playing comes from. */
function stopOfBeat(round: PlayRound, stops: number, beat: number): number {
  const { ends, holdBeats } = round;
  if (ends === "once") return Math.min(stops - 1, beat);
  const at = beat % roundBeats(round);
  if (ends === "loop") return Math.min(stops - 1, Math.max(0, at - holdBeats));
  if (at < stops) return at;
  const back = at - (stops - 1) - holdBeats;
  return back <= 0 ? stops - 1 : Math.max(0, stops - 1 - back);
}

export interface DuePlace {
  readonly place: number;
  /** Playing once has come to its end, its hold included. */
  readonly isOver: boolean;
}

/**
 * The place that is shown at a beat.
 * @param from place that playing begins at; outside of the range it begins at the nearest end
 * @param beat 0 for the beginning
 */
export function placeAtBeat(round: PlayRound, from: number, direction: Direction, beat: number): DuePlace {
  const stops = stopsOf(round);
  const inside = Math.min(round.last, Math.max(round.first, from));
  const own = Math.min(stops - 1, Math.floor((inside - round.first) / round.every));
  const begin = direction === 1 ? own : stops - 1 - own;
  const lead = round.ends === "loop" ? round.holdBeats : 0;
  const stop = stopOfBeat(round, stops, begin + lead + beat);
  return {
    place: round.first + (direction === 1 ? stop : stops - 1 - stop) * round.every,
    isOver: round.ends === "once" && begin + beat >= stops + round.holdBeats,
  };
}

/**
 * The beat that is on. @param rate places a second: an exact fraction, so that an hour at 24000/1001 is not a frame off
 */
export const beatAt = (seconds: number, rate: Rate, every: number): number =>
  // The clock of the screen comes in fractions of a millisecond: what is that near to the next beat is it.
  Math.floor((seconds * rate.numerator) / (rate.denominator * every) + 1e-6);

/** Places in the order in which they will be shown, each once, the present one first. @param most of them */
export function comingPlaces(round: PlayRound, from: number, direction: Direction, most: number): number[] {
  const places = new Set<number>();
  const beats = Math.min(roundBeats(round), most * 2 + 2 * round.holdBeats);
  for (let beat = 0; beat <= beats && places.size < most; beat++)
    places.add(placeAtBeat(round, from, direction, beat).place);
  return [...places];
}
