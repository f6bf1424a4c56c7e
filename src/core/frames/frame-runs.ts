/** The shape of a frame set; what may be done with one is in frame-set.ts. */
export interface Run {
  /** In the set. */
  readonly first: number;
  /** In the set: first + n x step. */
  readonly last: number;
  /** Distance between members; 1 for a run of one. `last - first` is a multiple of it. */
  readonly step: number;
}

export interface FrameSet {
  /** Canonical: equal sets have equal runs. */
  readonly runs: readonly Run[];
  /** Frames in all runs together. */
  readonly count: number;
}
