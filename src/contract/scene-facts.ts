/** What a scene tells of itself, for a shot that is made of it. */
import type { Marker } from "@/core/plan/notes";

export interface SceneFacts {
  /** Null where only its renderer can tell. */
  readonly cameras: readonly string[] | null;
  /** Scene frames, both inclusive; null where the scene does not say. */
  readonly timeLine: { readonly first: number; readonly last: number } | null;
  /** Frames a second as a person writes them; null where the scene does not say. */
  readonly rate: string | null;
  readonly markers: readonly Marker[];
  /** Files that it uses and that are not there, by their names in the scene. */
  readonly missing: readonly string[];
}
