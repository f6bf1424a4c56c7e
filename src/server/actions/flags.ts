/**
 * Flags that a person puts on frames and takes back.
 * A flag is a finding of a person. It counts against the file that is there: a new file settles it.
 */
import { intersection, members, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import type { FindingPlace } from "@/contract/sequence-view";
import type { Who } from "@/contract/who";
import { pool, transact } from "../db/pool";
import { TallyError, phraseError } from "../errors";
import { appendEvent } from "../store/events";
import { dismissFindings, insertFindings, openFindings } from "../store/findings";
import { listFiles } from "../store/frame-files";

/** The set that a phrase means, or the phrase's fault. */
function framesOf(phrase: string): ReturnType<typeof setOf> {
  const read = parsePhrase(phrase);
  if (!read.ok) throw phraseError(read.error);
  return read.set;
}

/** Flags the frames of a phrase that have a file; what is not there cannot be judged.
 * @param place where in the pictures; null: all of them
 * @returns the frames that were flagged, as a phrase
 */
export async function flagFrames(
  sequenceId: number,
  phrase: string,
  reason: string,
  who: Who = null,
  place: FindingPlace | null = null,
): Promise<string> {
  const contents = new Map((await listFiles(pool(), sequenceId)).map((f) => [f.frame, f.content]));
  const frames = intersection(framesOf(phrase), setOf(contents.keys()));
  if (frames.count === 0) throw new TallyError("no-file-to-flag");
  await transact(async (tx) => {
    await insertFindings(
      tx,
      sequenceId,
      "person",
      "by-hand",
      [...members(frames)].map((frame) => ({
        frame,
        text: reason,
        content: contents.get(frame) ?? null,
        place,
      })),
      who,
    );
    await appendEvent(tx, "findings", sequenceId);
  });
  return formatPhrase(frames);
}

/** Takes hand-made flags (and a node's remarks) back; what a check finds stays until the file is whole. */
export async function clearFlags(sequenceId: number, phrase: string, who: Who = null): Promise<number> {
  const asked = framesOf(phrase);
  return transact(async (tx) => {
    // Frames that have something against them, not those of the phrase: that may mean half a billion.
    const open = setOf((await openFindings(tx, sequenceId)).map((f) => f.frame));
    let cleared = 0;
    for (const run of intersection(asked, open).runs) {
      if (run.step === 1) cleared += await dismissFindings(tx, sequenceId, run.first, run.last, who);
      else
        for (let frame = run.first; frame <= run.last; frame += run.step)
          cleared += await dismissFindings(tx, sequenceId, frame, frame, who);
    }
    if (cleared > 0) await appendEvent(tx, "findings", sequenceId);
    return cleared;
  });
}
