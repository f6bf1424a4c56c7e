/** What a removal leaves, in a sentence. */
import type { LeftOnDisk } from "@/contract/project-view";

export const leftText = ({ files, bytes, folder }: LeftOnDisk): string =>
  files === 0
    ? `What there is in ${folder} stays as it is.`
    : `Its ${files} frames (${(bytes / 1e9).toFixed(2)} GB) stay in ${folder}.`;
