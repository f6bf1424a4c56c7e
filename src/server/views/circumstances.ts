/** How the files of a sequence came to be: what bad ones among them may share. */
import type { CircumstancesView } from "@/contract/circumstances";
import { callsOf, hoursOf, warningsOf } from "@/core/odd/circumstances";
import { packSet } from "@/core/tally/packed";
import { pool } from "../db/pool";
import { makersOfFiles, warningsOfFiles } from "../store/circumstances";
import { listFiles } from "../store/frame-files";
import { requireSequence } from "../store/shots";

/** The newest lines: a renderer that warns in each sample says the same of every frame. */
const MOST_LINES = 20_000;
/** Groups of a kind that are sent, those of most frames. */
const MOST_GROUPS = 500;

const packed = <T extends { readonly frames: Parameters<typeof packSet>[0] }>(groups: readonly T[]) =>
  [...groups]
    .sort((a, b) => b.frames.count - a.frames.count)
    .slice(0, MOST_GROUPS)
    .map((group) => ({ ...group, frames: packSet(group.frames) }));

/** @throws TallyError `sequence-unknown` */
export async function viewCircumstances(sequenceId: number): Promise<CircumstancesView> {
  await requireSequence(sequenceId);
  const [made, files, lines] = await Promise.all([
    makersOfFiles(pool(), sequenceId),
    listFiles(pool(), sequenceId),
    warningsOfFiles(pool(), sequenceId, MOST_LINES),
  ]);
  return {
    calls: packed(callsOf(made)),
    hours: packed(hoursOf(files, -new Date().getTimezoneOffset() * 60_000)),
    warnings: packed(warningsOf(lines)),
  };
}
