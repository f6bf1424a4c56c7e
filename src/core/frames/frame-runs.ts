/** The shape of a frame set; what may be done with one is in frame-set.ts. */
export interface Run {
  readonly first: number;
  readonly last: number;
  /** Distance between members; 1 for a run of one. `last - first` is a multiple of it. */
  readonly step: number;
}

export interface FrameSet {
  readonly runs: readonly Run[];
  readonly count: number;
}
