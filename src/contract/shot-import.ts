/** What comes of shots that are brought in: by a scene, a list or an edit. Told before, and after. */
import type { LineFault } from "@/core/plan/shot-list";

export interface ShotLineView {
  /** Of the list; null where there is none. */
  readonly line: number | null;
  readonly code: string;
  readonly title: string;
  /** Of the time line, inclusive. */
  readonly first: number;
  readonly last: number;
  readonly scene: string;
  /** The scene may come later. */
  readonly isSceneThere: boolean;
  readonly cameras: readonly string[];
  /** What becomes different of a shot that is there, in words. */
  readonly changes: readonly string[];
}

export interface ShotImport {
  readonly made: readonly ShotLineView[];
  readonly changed: readonly ShotLineView[];
  readonly unchanged: readonly ShotLineView[];
  readonly wrong: readonly (LineFault | WrongShot)[];
}

/** Of a list without lines. */
export interface WrongShot {
  readonly line: null;
  readonly message: string;
  /** Where a person looks, as the field is called. */
  readonly field?: string;
}

/** A shot that was made, for programs. */
export interface MadeShotView {
  readonly code: string;
  readonly project: string;
  /** As v001. */
  readonly version: string;
  /** Folders are absolute. */
  readonly sequences: readonly { readonly camera: string; readonly pass: string; readonly folder: string }[];
}

/** What a cut needs of a shot that the cut before did not. */
export interface NewlyNeeded {
  readonly code: string;
  /** Scene frames, as a phrase. */
  readonly frames: string;
  readonly count: number;
  /** Of these, how many have no good picture yet. */
  readonly missing: number;
}

export interface EditImport extends ShotImport {
  /** As the list calls itself, or its file. */
  readonly title: string;
  /** Files of its sound, as the list names them; they are kept with the edit. */
  readonly sound: readonly string[];
  /** Shots that the edit before showed, and this one does not. */
  readonly gone: readonly string[];
  /** Shots of which less is shown than before: nothing is taken away. */
  readonly shorter: readonly string[];
  readonly needed: readonly NewlyNeeded[];
}
