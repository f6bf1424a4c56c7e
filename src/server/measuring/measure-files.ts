/**
 * Measures whole files that nobody has measured yet, a few at a time: between the frames of a node, and by a command.
 * A task that is lost with its node is another's after its lease.
 */
import crypto from "node:crypto";
import path from "node:path";
import type { MeasuredPicture } from "@/core/image/measure-picture";
import type { FileVerdict } from "@/core/image/verdict";
import { type Pool, transact } from "../db/pool";
import { sha256 } from "../files/content";
import { sequencePlace } from "../files/layout";
import { checkMeasuring } from "../files/check-deep";
import { whyOutOfSight } from "../files/project-mark";
import { readRegular } from "../files/read-regular";
import { noteDamage } from "../store/damage";
import { fileOfFrame, lockFile } from "../store/frame-files";
import {
  endMeasuring,
  leaseMeasuring,
  type MeasureTask,
  saveMeasured,
  sequencesToMeasure,
} from "../store/measures";
import { sequenceById, type SequenceRow } from "../store/shots";

/** Of one lease: each takes a second at most, and what is lost with a node is done again. */
const AT_ONCE = 8;
const LEASE_SECONDS = 60;

/** Every pixel was unpacked: what was measured, or why it is no whole picture. */
type Looked =
  | { readonly kind: "measured"; readonly measured: MeasuredPicture | null }
  | { readonly kind: "damaged"; readonly verdict: FileVerdict }
  | "gone"
  | "later";

/**
 * Nothing measured: a picture of a kind that is not shown. "gone": not the file that was meant; once somebody has looked
 * at the one that is there, it is asked for anew. "later": it cannot be read now.
 */
async function measureTask(pool: Pool, folder: string, task: MeasureTask): Promise<Looked> {
  const file = await fileOfFrame(pool, task.sequenceId, task.frame);
  if (file?.content !== task.content) return "gone";
  let bytes: Buffer;
  try {
    bytes = await readRegular(path.join(folder, file.name));
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "ENOENT" ? "gone" : "later";
  }
  if (sha256(bytes) !== task.content) return "gone";
  try {
    const { verdict, measured } = await checkMeasuring(file.name, bytes);
    return verdict.verdict === "damaged" ? { kind: "damaged", verdict } : { kind: "measured", measured };
  } catch {
    // Whatever a reader trips over: a picture that cannot be measured must not end a node.
    return { kind: "measured", measured: null };
  }
}

/** Those that this machine sees, of one sequence at a time. */
async function leaseSome(
  pool: Pool,
  token: string,
  only: number | null,
): Promise<{ readonly sequence: SequenceRow; readonly tasks: readonly MeasureTask[] } | null> {
  for (const id of only === null ? await sequencesToMeasure(pool) : [only]) {
    const sequence = await sequenceById(pool, id);
    if (sequence === null || (await whyOutOfSight(sequence)) !== null) continue;
    const tasks = await transact((tx) => leaseMeasuring(tx, id, token, LEASE_SECONDS, AT_ONCE), pool);
    if (tasks.length > 0) return { sequence, tasks };
  }
  return null;
}

/**
 * @param only of this sequence; null: of all
 * @param mustEnd asked before each file; what is not measured then is left to whoever comes after the lease
 * @returns how many were measured; 0: nothing waits that this machine sees
 */
export async function measureSome(
  pool: Pool,
  only: number | null,
  mustEnd: () => boolean = () => false,
): Promise<number> {
  const token = crypto.randomUUID();
  const leased = await leaseSome(pool, token, only);
  if (leased === null) return 0;
  const { sequence, tasks } = leased;
  const folder = sequencePlace(sequence);
  for (const task of tasks) {
    if (mustEnd()) break;
    const looked = await measureTask(pool, folder, task);
    if (looked === "later") continue;
    await transact(async (tx) => {
      // Files are locked before what is to be measured of them, here as wherever one is saved.
      const file = await lockFile(tx, task.sequenceId, task.frame);
      if (!(await endMeasuring(tx, task, token)) || looked === "gone") return;
      if (looked.kind === "measured") await saveMeasured(tx, task, looked.measured);
      else if (file?.content === task.content) await noteDamage(tx, task, looked.verdict);
    }, pool);
  }
  return tasks.length;
}
