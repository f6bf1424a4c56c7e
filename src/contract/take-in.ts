/** What may be taken in of a folder, and what somebody says of it. */
import { ALPHAS, type Alpha } from "@/core/image/file-format";
import { type Pass, PASSES } from "@/core/plan/passes";
import type { Rate } from "@/core/timing/rate";
import { BOUNDS, textOfLength } from "./bounds";
import { checker, objectOf } from "./validate";

/** A sequence of a folder, by what stands in its names, and as what it is taken in. */
export interface FoundChoice {
  /** From the folder that was pointed at, parted by /; blank for that one. */
  readonly folder: string;
  readonly prefix: string;
  readonly suffix: string;
  readonly camera: string;
  readonly pass: Pass;
}

export interface TakeInWish {
  /** Of a shot that is there, or of a new one. */
  readonly code: string;
  /** Of a new one; null: its code. */
  readonly title: string | null;
  /** Null: all that are found. */
  readonly sequences: readonly FoundChoice[] | null;
  /** What is not said is as the files say, else as usual: the project's rate, and what their format has. */
  readonly rate: Rate | null;
  readonly alpha: Alpha | null;
  readonly isLinear: boolean | null;
}

export interface TakeInBody extends TakeInWish {
  readonly root: string;
  /** From the root, parted by /. */
  readonly folder: string;
  readonly isDry: boolean;
}

const orNull = (schema: object): object => ({ anyOf: [schema, { type: "null" }] });

export const checkTakeInBody = checker<TakeInBody>(
  objectOf<TakeInBody>({
    root: textOfLength(BOUNDS.declaredName),
    folder: textOfLength(BOUNDS.foundPath),
    code: textOfLength(BOUNDS.shotCode),
    title: orNull(textOfLength(BOUNDS.title)),
    sequences: orNull({
      type: "array",
      minItems: 1,
      maxItems: BOUNDS.watchedSequences,
      items: objectOf<FoundChoice>({
        folder: textOfLength(BOUNDS.foundPath),
        prefix: textOfLength(BOUNDS.fileName),
        suffix: textOfLength(BOUNDS.fileName),
        camera: textOfLength(BOUNDS.cameraName),
        pass: { enum: PASSES },
      }),
    }),
    rate: orNull(objectOf({ numerator: { type: "number" }, denominator: { type: "number" } })),
    alpha: orNull({ enum: ALPHAS }),
    isLinear: orNull({ type: "boolean" }),
    isDry: { type: "boolean" },
  }),
);
