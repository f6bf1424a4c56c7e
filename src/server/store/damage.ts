/** Damage that only unpacking a file to its last pixel tells: a look at its structure found it whole. */
import type { FileVerdict } from "@/core/image/verdict";
import type { Tx } from "../db/pool";
import { write } from "../db/rows";
import { appendFrameEvent } from "./events";
import { replaceCheckFinding } from "./findings";

/**
 * Under the lock of the frame's file. @param content SHA-256 of what was unpacked: where nobody has looked at those bytes
 * yet, the frame is flagged all the same, and the next look says what they are
 */
export async function noteDamage(
  tx: Tx,
  {
    sequenceId,
    frame,
    content,
  }: { readonly sequenceId: number; readonly frame: number; readonly content: string },
  { code, detail }: FileVerdict,
): Promise<void> {
  await write(
    tx,
    `UPDATE frame_file
      SET verdict = 'damaged', code = ?, detail = ?
      WHERE sequence_id = ? AND frame = ? AND content = ?`,
    [code, detail, sequenceId, frame, content],
  );
  await replaceCheckFinding(tx, sequenceId, frame, { code: code ?? "damaged", text: detail ?? "" });
  await appendFrameEvent(tx, "files", { sequenceId, runId: null }, frame, frame);
}
