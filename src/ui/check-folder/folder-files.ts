/** Files of a folder that somebody chose, with their paths; hidden ones are nobody's pictures. */
import type { DroppedEntry } from "../page/dropped-entries";

const isHidden = (path: string): boolean => path.split("/").some((part) => part.startsWith("."));

/** Those of an input for a folder. */
export const filesOfInput = (files: FileList): readonly DroppedEntry[] =>
  [...files]
    .map((file) => ({ path: file.webkitRelativePath || file.name, file }))
    .filter(({ path }) => !isHidden(path));
