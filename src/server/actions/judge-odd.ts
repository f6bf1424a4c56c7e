/**
 * What people say of odd ones, and how far off is odd. An accepted one is a finding of its frame, which is flagged with
 * it; a dismissed one is kept closed, and counts for the file that was judged.
 */
import type { JudgeBody } from "@/contract/odd-view";
import type { Who } from "@/contract/who";
import type { Thresholds } from "@/core/odd/odd";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendEvent } from "../store/events";
import { forgetOddVerdict, insertOddVerdict } from "../store/findings";
import { fileOfFrame } from "../store/frame-files";
import { requireSequence, saveThresholds } from "../store/shots";
import { oddNow } from "../views/odd";

/**
 * What is no more odd, as its file or a threshold has changed, is left out.
 * @returns how many were judged
 * @throws TallyError `sequence-unknown`, `odd-gone` where none was
 */
export async function judgeOdd(
  sequenceId: number,
  { judgement, of, why }: JudgeBody,
  who: Who,
): Promise<number> {
  const { odd } = await oddNow(await requireSequence(sequenceId));
  const meant = new Set(of.map(({ frame, code }) => `${frame} ${code}`));
  const judged = odd.filter(({ frame, code }) => meant.has(`${frame} ${code}`));
  const count = await transact(async (tx) => {
    let said = 0;
    for (const one of judged) {
      // What was judged is that file: another one may have come meanwhile.
      if ((await fileOfFrame(tx, sequenceId, one.frame))?.content !== one.content) continue;
      await forgetOddVerdict(tx, sequenceId, one);
      said++;
      if (judgement !== "undo")
        await insertOddVerdict(tx, sequenceId, {
          ...one,
          isAccepted: judgement === "accept",
          who,
          why: judgement === "dismiss" ? (why?.trim() ?? null) : null,
        });
    }
    if (said > 0) await appendEvent(tx, "findings", sequenceId);
    return said;
  });
  if (count === 0) throw new TallyError("odd-gone");
  return count;
}

/** @param thresholds null: as they are usual. Of all sequences of the shot. @throws TallyError `sequence-unknown` */
export async function setThresholds(sequenceId: number, thresholds: Thresholds | null): Promise<void> {
  const { shotId } = await requireSequence(sequenceId);
  await saveThresholds(pool(), shotId, thresholds);
}
