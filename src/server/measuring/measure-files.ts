/**
 * Measures whole files that nobody has measured yet, a few at a time: between the frames of a node, and by a command.
 * A task that is lost with its node is another's after its lease.
 */
import crypto from "node:crypto";
import path from "node:path";
import type { MeasuredPicture } from "@/core/image/measure-picture";
import { type Pool, transact } from "../db/pool";
import { sha256 } from "../files/content";
import { sequencePlace } from "../files/layout";
import { measureFile } from "../files/measure-file";
import { whyOutOfSight } from "../files/project-mark";
import { readRegular } from "../files/read-regular";
import { fileOfFrame } from "../store/frame-files";
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

/**
 * Null: a picture of a kind that is not shown. "gone": not the file that was meant; once somebody has looked at the one
 * that is there, it is asked for anew. "later": it cannot be read now.
 */
async function measureTask(
  pool: Pool,
  folder: string,
  task: MeasureTask,
): Promise<MeasuredPicture | null | "gone" | "later"> {
  const file = await fileOfFrame(pool, task.sequenceId, task.frame);
  if (file?.content !== task.content) return "gone";
  let bytes: Buffer;
  try {
    bytes = await readRegular(path.join(folder, file.name));
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "ENOENT" ? "gone" : "later";
  }
  if (sha256(bytes) !== task.content) return "gone";
  // Whatever a reader trips over: a picture that cannot be measured must not end a node.
  return measureFile(file.name, bytes).catch(() => null);
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
    const measured = await measureTask(pool, folder, task);
    if (measured === "later") continue;
    await transact(async (tx) => {
      if ((await endMeasuring(tx, task, token)) && measured !== "gone")
        await saveMeasured(tx, task, measured);
    }, pool);
  }
  return tasks.length;
}
