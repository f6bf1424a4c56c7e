/** How fast a run goes and when it is likely to end, from what its own frames have taken so far. */
import { largest } from "../many";
import { NINETY, UNKNOWN_SPREAD } from "./estimate";

/** A frame that the run has made. */
export interface EndedFrame {
  /** Of the whole attempt. */
  readonly seconds: number;
  /** Seconds since it was done. */
  readonly ago: number;
}

export interface RunPace {
  /** Frames still waiting or rendering. */
  readonly left: number;
  /** Newest finished frames, newest first, whatever their node. */
  readonly recent: readonly EndedFrame[];
  /** Frames that render at this moment: how many work side by side. */
  readonly lanes: number;
}

export interface FinishEstimate {
  /** Mean of what was given. */
  readonly secondsAFrame: number;
  /** Seconds from now: as likely before as after. */
  readonly likelySeconds: number;
  /** Nine times in ten it is done by then. */
  readonly lateSeconds: number;
}

const meanOf = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/**
 * Mean of the recent frames times the rounds that are left; late by the prediction interval of the mean of
 * `left`
 * further frames from `n` seen ones: its spread is that of one frame times sqrt(1/n + 1/left).
 * Null before the first frame is done or while nothing renders. */
export function estimateFinish({ left, recent, lanes }: RunPace): FinishEstimate | null {
  if (recent.length === 0 || lanes < 1 || left < 1) return null;
  const seconds = recent.map((r) => r.seconds);
  const secondsAFrame = meanOf(seconds);
  // Frames in work are on average half done.
  const likelySeconds = Math.max(0.5, left / lanes - 0.5) * secondsAFrame;
  const n = seconds.length;
  const spread =
    n < 3 || secondsAFrame === 0
      ? UNKNOWN_SPREAD
      : Math.sqrt(seconds.reduce((sum, s) => sum + (s - secondsAFrame) ** 2, 0) / (n - 1)) / secondsAFrame;
  return {
    secondsAFrame,
    likelySeconds,
    lateSeconds: likelySeconds * (1 + NINETY * spread * Math.sqrt(1 / n + 1 / left)),
  };
}

/** A gap so many times as long as the longest frame is no pace: the run stood still. */
const STANDSTILL = 3;

/** Fewer ends after the first round are no pace yet. */
const LEAST_ENDS = 3;

/**
 * Frames a minute over the newest stretch in which the run did not stand still; null while it does, or with
 * too few frames in it. The clock starts when the first round has ended: nodes that begin together end together,
 * and what ends at one moment tells nothing of how long it took.
 * @param recent in any order
 * @param lanes  frames that render side by side: the first round is as many
 */
export function framesAMinute(recent: readonly EndedFrame[], lanes: number): number | null {
  const ends = recent.map((r) => r.ago).sort((a, b) => a - b);
  const gap = STANDSTILL * Math.max(0, largest(recent.map((r) => r.seconds)));
  const pause = ends.findIndex((ago, i) => ago - (ends[i - 1] ?? 0) > gap);
  const stretch = pause < 0 ? ends : ends.slice(0, pause);
  const counted = stretch.length - Math.max(1, lanes);
  const [newest, since] = [stretch[0], stretch[counted]];
  if (counted < LEAST_ENDS || newest === undefined || since === undefined || since <= newest) return null;
  // The interval that still runs counts once it is longer than those before.
  return 60 * Math.min(counted / (since - newest), (counted + 1) / since);
}
