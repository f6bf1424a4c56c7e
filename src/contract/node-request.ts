/** What the server asks a node before a run, and what the node answers. */

/** A renderer by its name in plans, and what a fingerprint calls it where the frames are asked for. */
export interface RendererQuestion {
  readonly name: string;
  readonly engine: string;
}

export interface NodeQuestion {
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

export interface NodeAnswer {
  /** Why it cannot write there; null when it can. */
  readonly cannotWrite: string | null;
  /** Names of files that this node does not find. */
  readonly missing: readonly string[];
  /** Names of files that have another content here. */
  readonly different: readonly string[];
  /** What keeps it from rendering, a clause each: a program that is not there, another version. */
  readonly renderers: readonly string[];
}
