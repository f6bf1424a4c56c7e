/**
 * Saved samples and files that the plan does not ask for are discarded: of some frames, of a sequence, of a
 * version. What a frame in work has is its own, and a file that is not the one that was counted stays.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { DISCARDS, type Discard, type DiscardBody, type DiscardedView } from "@/contract/discards";
import type { Who } from "@/contract/who";
import { has, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { pool, transact } from "../db/pool";
import { catchUp } from "../folder/check";
import { checkpointFilesOf } from "../folder/checkpoints";
import { isSame } from "../folder/notice";
import { sequencePlace } from "../files/layout";
import { noteDeed } from "../store/deeds";
import { deleteCheckpoint, lockCheckpoint } from "../store/checkpoints";
import { appendEvent } from "../store/events";
import { deleteFile, lockFile } from "../store/frame-files";
import { requireSequence, type SequenceRow, sequencesOfVersion } from "../store/shots";
import { isLeased } from "../store/tasks";
import { framesMeant, loadSequence, loadVersion, type SequenceState } from "../views/tally";

/** A file of a frame that may go. */
interface Spare {
  readonly what: Discard;
  /** Of samples the beauty of the camera. */
  readonly sequence: SequenceRow;
  readonly frame: number;
  readonly bytes: number;
}

/** What may go of a sequence. Samples are a camera's: they are told by its beauty, or by the only pass asked about. */
function* sparesOf(state: SequenceState, body: DiscardBody): Generator<Spare> {
  // Those that the plan does not ask for are among them.
  const wanted = body.phrase === null ? null : framesMeant(state, body.phrase);
  const isMeant = (frame: number): boolean => wanted === null || has(wanted, frame);
  const { sequence, saved, files, tally } = state;
  const lead = state.ofVersion.find((s) => s.camera === sequence.camera && s.pass === "beauty");
  if (body.what.includes("samples") && lead !== undefined)
    if (body.scope === "sequence" || sequence.id === lead.id)
      for (const { frame, bytes } of saved)
        if (isMeant(frame) && !has(tally.activities.rendering, frame))
          yield { what: "samples", sequence: lead, frame, bytes };
  // Files of others are nobody's to remove here.
  if (body.what.includes("extra") && sequence.source === null)
    for (const { frame, bytes } of files)
      if (isMeant(frame) && has(tally.results.extra, frame)) yield { what: "extra", sequence, frame, bytes };
}

/** Removes the file first and its row then: a crash between them leaves a row, which the watch takes away. */
async function discardOne({ what, sequence, frame }: Spare): Promise<boolean> {
  return transact(async (tx) => {
    if (what === "samples") {
      if ((await lockCheckpoint(tx, sequence.id, frame)) === null) return false;
      if (await isLeased(tx, sequence.id, frame)) return false;
      for (const file of checkpointFilesOf(sequence, frame)) await fs.rm(file, { force: true });
      await deleteCheckpoint(tx, sequence.id, frame);
      return true;
    }
    const known = await lockFile(tx, sequence.id, frame);
    if (known === null) return false;
    const file = path.join(sequencePlace(sequence), path.basename(known.name));
    const seen = await fs.stat(file);
    if (!isSame(known, { name: known.name, bytes: seen.size, modifiedMs: seen.mtimeMs })) return false;
    await fs.rm(file);
    await deleteFile(tx, sequence.id, frame);
    return true;
  });
}

/**
 * Counts what may go, and removes it unless it is only asked. @returns what has gone, or would
 * @throws TallyError for a phrase that cannot be read
 */
export async function discard(
  sequenceId: number,
  body: DiscardBody,
  who: Who = null,
): Promise<DiscardedView> {
  const asked = await requireSequence(sequenceId);
  for (const sequence of body.scope === "version"
    ? await sequencesOfVersion(pool(), asked.versionId)
    : [asked])
    await catchUp(sequence);
  const states = body.scope === "version" ? await loadVersion(asked) : [await loadSequence(sequenceId)];
  const spares = states.flatMap((state) => [...sparesOf(state, body)]);
  const gone: Spare[] = [];
  for (const spare of spares) if (body.isDry || (await discardOne(spare))) gone.push(spare);
  if (!body.isDry && gone.length > 0)
    await transact(async (tx) => {
      await noteDeed(tx, who, "discard", { versionId: asked.versionId });
      for (const id of new Set(gone.map(({ sequence }) => sequence.id))) await appendEvent(tx, "files", id);
      // Every page of the shot tells who did it.
      await appendEvent(tx, "plan");
    });
  return Object.fromEntries(
    DISCARDS.map((what) => {
      const own = gone.filter((s) => s.what === what);
      return [
        what,
        {
          count: own.length,
          bytes: own.reduce((sum, { bytes }) => sum + bytes, 0),
          frames: formatPhrase(setOf(own.map(({ frame }) => frame))),
        },
      ];
    }),
  ) as DiscardedView;
}
