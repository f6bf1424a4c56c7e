/**
 * What somebody wants of a shot, whichever door it comes by: a scene, a line of a list, a clip of an edit.
 * What is left open is taken from the scene, the project, or what is usual.
 */
import { STAND_IN } from "./renderer";
import type { Marker } from "./notes";

export interface ShotWish {
  readonly code: string;
  /** Null: the code itself, or what the shot is called already. */
  readonly title: string | null;
  /** Scene frames, both inclusive; null: as the scene says, or as it is. */
  readonly timeLine: { readonly first: number; readonly last: number } | null;
  /** Relative to the project's folder; null: the one that is called as the shot. */
  readonly scene: string | null;
  readonly renderer: string;
  /** Null: the scene's first. */
  readonly cameras: readonly string[] | null;
  /** Null: the scene's, or those that there are. */
  readonly markers: readonly Marker[] | null;
}

/** Everything left open but the code. */
export const BLANK_WISH: Omit<ShotWish, "code"> = {
  title: null,
  timeLine: null,
  scene: null,
  renderer: STAND_IN,
  cameras: null,
  markers: null,
};
