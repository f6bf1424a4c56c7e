/** Columns of a sequence that has no file yet. */
import type { FileColumns } from "@/contract/sequence-view";

export const NO_FILES: FileColumns = {
  frames: [],
  seconds: [],
  luminance: [],
  noise: [],
  node: [],
  nodes: [],
  content: [],
  samples: [],
  bytes: [],
};
