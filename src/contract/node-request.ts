/**
 * What the server asks a node, and what the node answers: whether it is ready for a run, what it sees of the
 * house, and to try a renderer. Told by the node itself: what another machine sees says nothing.
 */

/** A renderer by its name in plans, and what a fingerprint calls it where the frames are asked for. */
export interface RendererQuestion {
  readonly name: string;
  readonly engine: string;
}

/** Before a run. */
export interface ReadyQuestion {
  readonly kind: "ready";
  /** Name of a storage root; the node has a path of its own for it. */
  readonly root: string;
  /** The project's folder below the root. */
  readonly folder: string;
  /** Folder of the version, relative to the project's: the node writes a file there and removes it. */
  readonly version: string;
  /**
   * Files that the scene needs, itself included: path relative to the project's folder, name in the scene,
   * and the bytes that the server sees.
   */
  readonly files: readonly { readonly path: string; readonly name: string; readonly content: string }[];
  /** Those that the frames are rendered with. */
  readonly renderers: readonly RendererQuestion[];
}

export interface ReadyAnswer {
  /** Why it cannot write there; null when it can. */
  readonly cannotWrite: string | null;
  /** Names of files that this node does not find. */
  readonly missing: readonly string[];
  /** Names of files that have another content here. */
  readonly different: readonly string[];
  /** What keeps it from rendering, a clause each: a program that is not there, another version. */
  readonly renderers: readonly string[];
}

/** Roots and renderers, for the page Settings. */
export interface HouseQuestion {
  readonly kind: "house";
  /** With the name of a file that the server has just put there: a folder of that path alone is not the root. */
  readonly roots: readonly { readonly name: string; readonly sign: string | null }[];
  readonly renderers: readonly RendererQuestion[];
}

export interface HouseAnswer {
  readonly roots: readonly RootSeen[];
  /** What keeps it from rendering with each, as a clause; null where nothing does. */
  readonly renderers: readonly { readonly name: string; readonly fault: string | null }[];
}

/** A root as one node sees it. */
export interface RootSeen {
  readonly name: string;
  /** Its own path for it; null: it has no root of that name. */
  readonly path: string | null;
  /** It is the folder that the server means. */
  readonly isSame: boolean;
  /** Why it cannot write there; null when it can. */
  readonly cannotWrite: string | null;
  /** For a user without privileges; null where the disk cannot be asked. */
  readonly freeBytes: number | null;
}

/** One frame of a scene, rendered beside everything else and kept nowhere. */
export interface TryQuestion {
  readonly kind: "try";
  readonly root: string;
  /** Of the project, below the root. */
  readonly folder: string;
  /** Relative to the project's folder. */
  readonly scene: string;
  readonly renderer: string;
  readonly camera: string;
  /** Scene frame. */
  readonly frame: number;
}

export interface TryAnswer {
  /** Why there is no picture; null where there is one. */
  readonly fault: string | null;
  /** What was said, in order. */
  readonly lines: readonly string[];
  /** From the call to the whole picture. */
  readonly seconds: number;
  /** Small, as base64; null without one. */
  readonly jpeg: string | null;
}

export type NodeQuestion = ReadyQuestion | HouseQuestion | TryQuestion;

/** What a question of a kind is answered with. */
export type AnswerTo<Q extends NodeQuestion> = Q extends ReadyQuestion
  ? ReadyAnswer
  : Q extends HouseQuestion
    ? HouseAnswer
    : TryAnswer;
