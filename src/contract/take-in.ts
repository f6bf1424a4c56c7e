/** What may be taken in of a folder, and what somebody says of it. */
import { ALPHAS, type Alpha } from "@/core/image/file-format";
import { type Pass, PASSES } from "@/core/plan/passes";
import type { PackedSet } from "@/core/tally/packed";
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

/** A folder that is pointed at: by a root and the way from it, or by a path on the server. */
export interface PointedFolder {
  /** Null: the path says it. */
  readonly root: string | null;
  /** From the root, parted by /; or the whole path. */
  readonly folder: string;
}

export const pointedFolder = objectOf<PointedFolder>({
  root: orNull(textOfLength(BOUNDS.declaredName)),
  folder: textOfLength(BOUNDS.foundPath),
});
export const checkPointedFolder = checker<PointedFolder>(pointedFolder);

/** A list that may be endless: how many, and the first of them. */
export interface FirstOf {
  readonly count: number;
  readonly names: readonly string[];
}

/** A sequence of a folder before it is taken in. */
export interface FoundSequenceView extends FoundChoice {
  /** With # for each digit. */
  readonly name: string;
  readonly frames: PackedSet;
  readonly first: number;
  readonly last: number;
  readonly count: number;
  /** As a phrase. */
  readonly missing: string;
  readonly missingCount: number;
  /** Digits of the numbers that occur. */
  readonly widths: readonly number[];
  readonly doubles: FirstOf;
  readonly bytes: number;
  /** Milliseconds since 1970: the files' own times. */
  readonly oldestMs: number | null;
  readonly newestMs: number | null;
  /** Of its pictures; null while none could be read. */
  readonly size: { readonly width: number; readonly height: number } | null;
  /** In words; blank while none could be read. */
  readonly format: string;
  /** What it is in the tally already; null: nothing. */
  readonly known: string | null;
}

/** What a value is proposed by, as the end of a sentence. */
export interface GuessView<T> {
  readonly value: T;
  readonly why: string;
}

export interface FoundFolderView {
  readonly root: string;
  readonly folder: string;
  /** Absolute, on the server. */
  readonly path: string;
  readonly files: number;
  readonly bytes: number;
  readonly sequences: readonly FoundSequenceView[];
  readonly others: FirstOf;
  readonly leftovers: FirstOf;
  readonly unreadable: readonly { readonly folder: string; readonly errno: string }[];
  readonly links: FirstOf;
  readonly rate: GuessView<Rate>;
  readonly alpha: GuessView<Alpha>;
  readonly isLinear: GuessView<boolean>;
  /** A code that a shot may have, by the folder's name. */
  readonly code: string;
}

/** What is told while a folder is looked at, a line each; the last one holds it, or what is wrong. */
export type LookMessage =
  | { readonly type: "so-far"; readonly folders: number; readonly files: number }
  | { readonly type: "found"; readonly found: FoundFolderView }
  | { readonly type: "wrong"; readonly message: string };

/** A folder of the tree that one points at. */
export interface FolderLine {
  /** From the root, parted by /. */
  readonly folder: string;
  readonly name: string;
  /** Numbered pictures in it. */
  readonly pictures: number;
  readonly folders: number;
}

export interface FolderTreeView {
  readonly roots: readonly string[];
  readonly root: string;
  readonly folder: string;
  readonly lines: readonly FolderLine[];
  /** There is more than can be shown. */
  readonly isWhole: boolean;
}

export interface TakenInView {
  readonly shot: string;
  /** As v001. */
  readonly version: string;
  readonly did: "made" | "added" | "unchanged";
}
