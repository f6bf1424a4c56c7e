/** What the page Take in says. */
import type { FirstOf, FoundFolderView, FoundSequenceView } from "@/contract/take-in";
import { count, frames, size } from "../words";

const NAMED = 6;

/** "a, b and 3 more". */
export function namesText({ count: all, names }: FirstOf): string {
  const shown = names.slice(0, NAMED);
  return all > shown.length ? `${shown.join(", ")} and ${count(all - shown.length)} more` : shown.join(", ");
}

/** What lies in the folder, in one sentence. */
export function foundSentence({ sequences, files, bytes }: FoundFolderView): string {
  const all = sequences.reduce((sum, s) => sum + s.count, 0);
  if (sequences.length === 0)
    return files === 0
      ? "Nothing lies in this folder, nor below it."
      : `${count(files)} file${files === 1 ? "" : "s"}, and no numbered pictures among them.`;
  return `${count(sequences.length)} sequence${sequences.length === 1 ? "" : "s"}, ${frames(all)}, ${size(bytes)}.`;
}

/** What is odd about a sequence before it is chosen; blank where nothing is. */
export function oddText(s: FoundSequenceView): string {
  return [
    ...(s.missingCount === 0
      ? []
      : [`${count(s.missingCount)} missing${s.missing.length > 40 ? "" : `: ${s.missing}`}`]),
    ...(s.widths.length < 2 ? [] : [`numbers of ${s.widths.join(" and ")} digits`]),
    ...(s.doubles.count === 0
      ? []
      : [
          `${frames(s.doubles.count)} there twice: ${namesText({ ...s.doubles, names: s.doubles.names.slice(0, 1) })}`,
        ]),
    ...(s.size === null ? ["no picture of it could be read"] : []),
  ].join("; ");
}
