/** Bringing the tally back from what lies beside the frames: what is told while it goes on, and at its end. */

/** What a project has; of several their sums. */
export interface ProjectCounts {
  readonly shots: number;
  readonly versions: number;
  readonly frames: number;
  readonly attempts: number;
  /** Of persons, and open. */
  readonly flags: number;
}

export interface RebuiltView extends ProjectCounts {
  readonly projects: number;
  /** Projects that are in the tally already: they stay as they are. */
  readonly there: readonly string[];
  /** Folders whose project somebody took out of the tally: they stay out. */
  readonly removed: readonly string[];
  /** Versions that no record knows, as HL010/v002: their plan is read from their pictures. */
  readonly fromPictures: readonly string[];
  /** Those, and folders of projects, of which nothing could be made, with the reason. */
  readonly refused: readonly string[];
  /** Lines that could not be read, and rows that the tables refused. */
  readonly broken: number;
}

/** What goes on. */
export interface RebuildStep {
  /** Folder of the project, absolute. */
  readonly folder: string;
  /** Lines of its records read, rows put back, or sequences whose files were looked at. */
  readonly doing: "lines" | "rows" | "files";
  readonly done: number;
}

/** A line each; the last one holds what came of it, or what is wrong. */
export type RebuildMessage =
  | ({ readonly type: "so-far" } & RebuildStep)
  | { readonly type: "rebuilt"; readonly rebuilt: RebuiltView }
  | { readonly type: "wrong"; readonly message: string };

/** A project's folder whose tally is not in this house. */
export interface LostTallyView {
  readonly root: string;
  /** From the root, parted by /. */
  readonly folder: string;
  /** Absolute, on the server. */
  readonly path: string;
  /** When something was written into its record last; null: it has none, and comes back from its pictures. */
  readonly writtenMs: number | null;
}

export interface LostTalliesView {
  readonly tallies: readonly LostTallyView[];
}
