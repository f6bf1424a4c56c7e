/** When a run that goes on is likely to end, from what its own frames have taken so far. */

export interface RunPace {
  /** Frames still waiting or rendering. */
  readonly left: number;
  /** Seconds of the newest finished frames, whatever their node. */
  readonly recentSeconds: readonly number[];
  /** Frames that render at this moment: how many work side by side. */
  readonly lanes: number;
}

export interface FinishEstimate {
  readonly secondsAFrame: number;
  readonly secondsLeft: number;
}

/** Mean of the recent frames times the rounds that are left. Null before the first frame is done or while nothing renders. */
export function estimateFinish({ left, recentSeconds, lanes }: RunPace): FinishEstimate | null {
  if (recentSeconds.length === 0 || lanes < 1 || left < 1) return null;
  const secondsAFrame = recentSeconds.reduce((sum, s) => sum + s, 0) / recentSeconds.length;
  // Frames in work are on average half done.
  const rounds = Math.max(0.5, left / lanes - 0.5);
  return { secondsAFrame, secondsLeft: rounds * secondsAFrame };
}
