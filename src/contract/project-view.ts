/** Projects and their places as the pages show them. */
import type { DeedView } from "./who";
import type { PresetSettings } from "@/core/plan/preset";
import type { Rate } from "@/core/timing/rate";

export interface ProjectLine {
  readonly slug: string;
  readonly title: string;
  readonly rate: Rate;
  /** Name of its storage root. */
  readonly root: string;
  /** Relative to the root. */
  readonly folder: string;
  readonly isArchived: boolean;
  /** Settings that plans of new shots begin with. */
  readonly defaults: PresetSettings;
  /** How many that are not archived. */
  readonly shots: number;
  /** What was last done to it; null: it is from before names were kept. */
  readonly deed: DeedView | null;
}

export interface RootView {
  readonly name: string;
  /** On the server's machine. */
  readonly folder: string;
  /** Null where it cannot be seen. */
  readonly freeBytes: number | null;
}

export interface ProjectsView {
  /** In the order in which they were made. */
  readonly projects: readonly ProjectLine[];
  readonly roots: readonly RootView[];
}

export interface ProjectFilesView {
  /** Absolute. */
  readonly folder: string;
  /** Relative to it, with slashes, in order. */
  readonly files: readonly string[];
  /** False: there are more than are told. */
  readonly isWhole: boolean;
  /** Renderers that a plan may name. */
  readonly renderers: readonly string[];
}

/** What a removal from the tally leaves on disk. */
export interface LeftOnDisk {
  /** Absolute. */
  readonly folder: string;
  /** Frames that were known. */
  readonly files: number;
  readonly bytes: number;
}
