/**
 * What somebody says of files that replaced others. Accepted, the one before is put further aside and no more offered;
 * undone, it comes back, and the one that replaced it is kept aside in its turn: undone again, all is as it was.
 */
import fs from "node:fs";
import path from "node:path";
import type { ReplacedBody } from "@/contract/replaced";
import { has, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { transact } from "../db/pool";
import { TallyError } from "../errors";
import { acceptedFolder, attemptOfAside, nameBeforeAside, sequencePlace, temporaryOf } from "../files/layout";
import { forgetAside, keepAside, prepareAside, putInPlace } from "../files/put-in-place";
import { asideFolderOf, asideNames, asidesByFrame } from "../folder/aside";
import { catchUp } from "../folder/check";
import { appendEvent } from "../store/events";
import { reopenFindingsOf } from "../store/findings";
import { lockFile } from "../store/frame-files";
import { requireSequence, type SequenceRow } from "../store/shots";
import { framesMeant, loadSequence } from "../views/tally";

/** Every generation that is kept of a frame is put further aside. */
async function accept(sequence: SequenceRow, names: readonly string[]): Promise<void> {
  const folder = asideFolderOf(sequence);
  const further = acceptedFolder(folder);
  await fs.promises.mkdir(further, { recursive: true });
  for (const name of names) await fs.promises.rename(path.join(folder, name), path.join(further, name));
}

/** @returns false where the frame is in work, or the file before is gone */
async function undo(sequence: SequenceRow, frame: number, name: string): Promise<boolean> {
  const folder = asideFolderOf(sequence);
  const before = path.join(folder, name);
  const final = path.join(sequencePlace(sequence), nameBeforeAside(name));
  const temporary = temporaryOf(final, process.pid);
  try {
    await fs.promises.copyFile(before, temporary, fs.constants.COPYFILE_FICLONE);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return false;
    throw error;
  }
  const aside = await prepareAside(final, folder, attemptOfAside(name));
  try {
    await transact(async (tx) => {
      await lockFile(tx, sequence.id, frame);
      // A transaction that is run again finds it in its place.
      if (fs.existsSync(temporary)) {
        keepAside(aside, final);
        putInPlace(temporary, final);
      }
      await reopenFindingsOf(tx, sequence.id, frame);
    });
    await fs.promises.rm(before, { force: true });
    return true;
  } finally {
    await forgetAside(aside);
    await fs.promises.rm(temporary, { force: true });
  }
}

/**
 * @returns frames that it was done to, as a phrase
 * @throws TallyError `sequence-unknown`, `phrase-wrong`, and `replaced-none` where there is none to do it to
 */
export async function settleReplaced(
  sequenceId: number,
  { decision, phrase }: ReplacedBody,
): Promise<string> {
  const sequence = await requireSequence(sequenceId);
  const state = await loadSequence(sequenceId);
  const wanted = framesMeant(state, phrase);
  const names = sequence.source === null ? await asideNames(sequence) : [];
  const done: number[] = [];
  for (const [frame, own] of asidesByFrame(names)) {
    if (!has(wanted, frame) || has(state.tally.activities.rendering, frame)) continue;
    if (decision === "accept") await accept(sequence, own);
    else if (!(await undo(sequence, frame, own.at(-1)!))) continue;
    done.push(frame);
  }
  if (done.length === 0) throw new TallyError("replaced-none");
  if (decision === "undo") await catchUp(sequence);
  await transact((tx) => appendEvent(tx, "files", sequenceId));
  return formatPhrase(setOf(done));
}
