/** The newest edit of a project as its page plays it: one row of places, and the pictures of the shots that it shows. */
import type { ReelStretch } from "@/core/edit/edit-reel";
import type { Alpha, FileFormat } from "@/core/image/file-format";
import type { Pass } from "@/core/plan/passes";
import type { PackedSet } from "@/core/tally/packed";
import type { Rate } from "@/core/timing/rate";

/** The version of a shot that stands for it: chosen, or the newest. */
export interface EditShot {
  readonly code: string;
  readonly sequenceId: number;
  readonly version: string;
  readonly pass: Pass;
  readonly file: FileFormat;
  readonly alpha: Alpha;
  /** The stand-in made its frames. */
  readonly isOurs: boolean;
  /** Of its pictures, as planned. */
  readonly size: { readonly width: number; readonly height: number };
  /** Frames that have a file which was looked at, and the first digits of the hash of each. */
  readonly frames: PackedSet;
  readonly content: readonly string[];
}

export interface EditView {
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  /** As the list calls itself. */
  readonly name: string;
  readonly stretches: readonly ReelStretch[];
  readonly shots: readonly EditShot[];
}
