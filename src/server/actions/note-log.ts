/** Who made which frame, how long it took and what was said of it, out of another program's log. */
import type { LogFactsBody, NotedLog } from "@/contract/log-facts";
import { difference, setOf } from "@/core/frames/frame-set";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import { transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendEvent } from "../store/events";
import { listFiles, saveSaid } from "../store/frame-files";
import { requireSequence } from "../store/shots";

/**
 * Only of frames that something else makes: of ours we know it ourselves.
 * @throws TallyError `sequence-unknown`, `sequence-not-watched`
 */
export async function noteLog(sequenceId: number, { frames }: LogFactsBody): Promise<NotedLog> {
  const sequence = await requireSequence(sequenceId);
  if (sequence.source === null) throw new TallyError("sequence-not-watched", { shot: sequence.shot });
  return transact(async (tx) => {
    const here = setOf((await listFiles(tx, sequenceId)).map((file) => file.frame));
    const noted = await saveSaid(tx, sequenceId, frames);
    await appendEvent(tx, "files", sequenceId);
    const notHere = difference(setOf(frames.map((f) => f.frame)), here);
    return { noted, notHere: shorten(formatPhrase(notHere)) };
  });
}
