/**
 * A whole answer that is on its way may have been read before changes that arrive meanwhile: they are
 * put in again when it is there, in their order. One that it holds already does no harm, since
 * whatever became of a frame after a change was told has a change of its own, further on.
 */
import type { SequenceView, VersionChange } from "@/contract/sequence-view";
import { applyChange } from "./apply-change";

/** One list for each whole answer that is on its way. */
const onTheirWay = new Set<VersionChange[]>();

/** Every change is told here first; it is kept for whole answers that are on their way. */
export function hearChange(change: VersionChange): void {
  for (const heard of onTheirWay) heard.push(change);
}

/** Reads a whole answer; what was told meanwhile is put in before anybody sees it. */
export async function withChangesHeard(read: () => Promise<SequenceView>): Promise<SequenceView> {
  const heard: VersionChange[] = [];
  onTheirWay.add(heard);
  try {
    return heard.reduce(applyChange, await read());
  } finally {
    onTheirWay.delete(heard);
  }
}
