/** What a scene tells of itself, for a shot that is made of it. */
import type { Marker } from "@/core/plan/notes";
import { BOUNDS, FRAME, nameOfLength } from "./bounds";
import { checker, objectOf } from "./validate";

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

/** What another renderer prints of its scene; what it cannot tell it leaves out. */
export interface DescribedScene {
  readonly cameras?: readonly string[];
  /** Scene frames, both inclusive. */
  readonly timeLine?: { readonly first: number; readonly last: number };
  /** Frames a second: 24, or "24000/1001". */
  readonly rate?: number | string;
  /** Both ends inclusive, as people name stretches. */
  readonly markers?: readonly { readonly name: string; readonly first: number; readonly last: number }[];
}

/** A program may print more than is asked for here. */
export const checkDescribedScene = checker<DescribedScene>({
  ...objectOf<DescribedScene>(
    {
      cameras: { type: "array", items: nameOfLength(BOUNDS.cameraName), maxItems: BOUNDS.cameras },
      timeLine: objectOf({ first: FRAME, last: FRAME }),
      rate: { type: ["number", "string"], maxLength: BOUNDS.word },
      markers: {
        type: "array",
        maxItems: BOUNDS.markers,
        items: objectOf({ name: nameOfLength(BOUNDS.name), first: FRAME, last: FRAME }),
      },
    },
    [],
  ),
  additionalProperties: true,
});
