/** What the driver of a render is asked between rows. */
export interface RenderControl {
  /** Its node is gone: the work ends. */
  readonly isOrphaned: () => boolean;
  /** What there is shall be saved, and the work end. */
  readonly isStopping: () => boolean;
}

/** Nobody asks for anything: the render goes to its end. */
export const UNWATCHED: RenderControl = { isOrphaned: () => false, isStopping: () => false };
