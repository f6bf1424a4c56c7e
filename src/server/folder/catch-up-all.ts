/** Several sequences, until all that is there is judged: what is half written is waited for, once. */
import { setTimeout as pause } from "node:timers/promises";
import { pool } from "../db/pool";
import { unlookedFiles } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";
import { catchUp } from "./check";
import { notice } from "./notice";

/** @param onNoticed told once how many files are to be read, when the folders were listed */
export async function catchUpAll(
  sequences: readonly SequenceRow[],
  onNoticed: (files: number) => void,
): Promise<void> {
  let files = 0;
  for (const sequence of sequences) {
    await notice(sequence);
    files += (await unlookedFiles(pool(), sequence.id)).length;
  }
  onNoticed(files);
  let restsInMs = 0;
  for (const sequence of sequences) restsInMs = Math.max(restsInMs, (await catchUp(sequence)).restsInMs);
  if (restsInMs === 0) return;
  await pause(restsInMs);
  for (const sequence of sequences) await catchUp(sequence);
}
