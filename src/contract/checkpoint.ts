/**
 * What a checkpoint file says of itself: who made it, from what, and how far it got.
 * The header stands before the sums of all pixels, as a line of JSON. Whoever reads it has a file that
 * another program may have cut or written: nothing is allocated by its numbers before they were held
 * against the plan. A file of another look, size or camera is never continued; it is told and rendered
 * anew.
 */
import { BOUNDS, textOfLength } from "./bounds";
import type { SavedSamples } from "@/core/run/checkpoint";
import { checker, objectOf } from "./validate";

/**
 * Stands first in every file of saved samples; a reader refuses any other, so that a later layout is never
 * read as this one.
 */
export const CHECKPOINT_FORMAT = "plain-tally-checkpoint/1";

export interface CheckpointHeader extends SavedSamples {
  readonly format: typeof CHECKPOINT_FORMAT;
  /** Of the look: the hash of all that decides the picture. */
  readonly version: string;
  readonly camera: string;
  /** Number of the frame's file. */
  readonly frame: number;
  /** The attempt that wrote it: tells leftovers of ended ones. */
  readonly attempt: number;
  /** Name of the node that wrote it, for the log. */
  readonly node: string;
  /** Pixels, after the scale. */
  readonly width: number;
  /** Pixels, after the scale. */
  readonly height: number;
  /** Of the scene: the factor on its light. */
  readonly exposure: number;
  /** Names the gathered light that the samples are lit by; null, or left out, for none. */
  readonly lighting?: string | null;
  /** Where the sampling goes on. */
  readonly cursor: { readonly region: number; readonly goal: number; readonly row: number };
  /** Samples that every pixel has. */
  readonly samples: number;
  /** Share of what was asked, 0 to 1. */
  readonly share: number;
  /** Render seconds that went into it, over all attempts. */
  readonly seconds: number;
  /** Files that another renderer goes on from, in their order behind the header; left out: sums of our own. */
  readonly files?: readonly StateFile[];
}

/** A file of another renderer. */
export interface StateFile {
  /** In the folder of its call. */
  readonly name: string;
  readonly bytes: number;
}

const whole = { type: "integer", minimum: 0 } as const;
const text = textOfLength(BOUNDS.word);

/** A program of a later version may say more. */
export const checkCheckpointHeader = checker<CheckpointHeader>({
  ...objectOf<CheckpointHeader>(
    {
      format: { const: CHECKPOINT_FORMAT },
      version: text,
      camera: text,
      frame: { type: "integer" },
      attempt: whole,
      node: text,
      width: { type: "integer", minimum: 1, maximum: BOUNDS.side },
      height: { type: "integer", minimum: 1, maximum: BOUNDS.side },
      exposure: { type: "number" },
      lighting: { type: ["string", "null"], maxLength: BOUNDS.word },
      cursor: {
        type: "object",
        required: ["region", "goal", "row"],
        properties: { region: whole, goal: { type: "integer", minimum: 1 }, row: whole },
      },
      samples: whole,
      share: { type: "number", minimum: 0, maximum: 1 },
      seconds: { type: "number", minimum: 0 },
      files: {
        type: "array",
        minItems: 1,
        maxItems: BOUNDS.keptFiles,
        items: objectOf<StateFile>({
          name: { type: "string", minLength: 1, maxLength: BOUNDS.word, pattern: "^(?!\\.)[^/\\\\]+$" },
          bytes: { type: "integer", minimum: 0, maximum: BOUNDS.stateBytes },
        }),
      },
      look: { type: "object", required: [] },
      effort: { type: "object", required: [] },
      layers: { type: "boolean" },
      cover: { type: "boolean" },
    },
    [
      "format",
      "version",
      "camera",
      "frame",
      "attempt",
      "node",
      "width",
      "height",
      "exposure",
      "cursor",
      "samples",
      "share",
      "seconds",
      "look",
      "effort",
      "layers",
      "cover",
    ],
  ),
  additionalProperties: true,
});
