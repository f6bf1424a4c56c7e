/**
 * Temporary files that attempts left behind. A file is ours by proof alone: it bears the name of a frame of this
 * sequence, our ending, and the number of an attempt at that very frame that has ended. Whatever else ends like
 * that is somebody's file and stays.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { groupFiles, temporaryName } from "@/core/naming/group-files";
import { frameName, type ReadPlan } from "@/core/plan/plan";
import { leadKey } from "@/core/run/run-tasks";
import { pool, transact } from "../db/pool";
import { sequencePlace } from "../files/layout";
import { endedAmong, lockEnded } from "../store/attempts";
import { leadsOf, type SequenceRow } from "../store/shots";

/** A temporary file with the attempt that wrote it. */
export interface Leftover {
  readonly name: string;
  readonly attemptId: number;
}

/** The number of the frame that a name is of, where it is a name that this plan gives. */
function frameOf(name: string, read: ReadPlan, sequence: SequenceRow): number | null {
  const frame = groupFiles([{ name, bytes: 0 }]).sequences[0]?.files[0]?.frame;
  return frame !== undefined && frameName(read, sequence, frame) === name ? frame : null;
}

/** Leftovers among the names in a sequence's folder. */
export async function leftoversAmong(
  names: readonly string[],
  read: ReadPlan,
  sequence: SequenceRow,
): Promise<readonly Leftover[]> {
  const claimed = names.flatMap((name) => {
    const temporary = temporaryName(name);
    const frame = temporary === null ? null : frameOf(temporary.final, read, sequence);
    return frame === null ? [] : [{ name, frame, attemptId: temporary!.by }];
  });
  const leadId = (await leadsOf(pool(), [sequence.versionId])).get(leadKey(sequence));
  const ended = await endedAmong(
    pool(),
    claimed.map((c) => c.attemptId),
  );
  return claimed.filter(({ frame, attemptId }) =>
    ended.some((a) => a.id === attemptId && a.frame === frame && a.leadId === leadId),
  );
}

/** Removes one, if its attempt has still ended: a node that comes back may go on with it. */
export async function removeLeftover(sequence: SequenceRow, { name, attemptId }: Leftover): Promise<boolean> {
  return transact(async (tx) => {
    if (!(await lockEnded(tx, attemptId))) return false;
    await fs.rm(path.join(sequencePlace(sequence), path.basename(name)), { force: true });
    return true;
  });
}
