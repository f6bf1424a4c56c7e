/** A hand-out as the page shows it: what each machine got, and what of it is back. */
import path from "node:path";
import { difference, type FrameSet, intersection, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { type ShareRow, sharesOfRun } from "../store/hand-outs";
import { runById, type RunRow } from "../store/runs";
import { requireSequence } from "../store/shots";
import { versionPlace } from "../files/layout";
import { tasksOfRun } from "../store/tasks";
import type { HandOutView } from "@/contract/run-view";

/** Name of the file that tells a machine without a database what to render. */
export const PLAN_FILE = "hand-out.json";

/** A run that was handed out. @throws TallyError `hand-out-unknown`, also for a run that is none */
export async function requireHandOut(runId: number): Promise<RunRow & { readonly handout: string }> {
  const run = await runById(pool(), runId);
  if (run === null || run.handout === null) throw new TallyError("hand-out-unknown");
  return { ...run, handout: run.handout };
}

/**
 * The frames of a share. Phrases are written by us; one that cannot be read is a bug and is thrown as one.
 */
export const framesOf = ({ frames }: ShareRow): FrameSet => {
  const read = parsePhrase(frames);
  if (!read.ok) throw new Error(`A share holds "${frames}".`);
  return read.set;
};

/**
 * What each machine was given, how much of that is back, and which frames are still out. Progress of machines
 * that are not connected is not known, and not guessed.
 */
export async function viewHandOut(runId: number): Promise<HandOutView> {
  const run = await requireHandOut(runId);
  const [shares, tasks, sequence] = await Promise.all([
    sharesOfRun(pool(), runId),
    tasksOfRun(pool(), runId),
    requireSequence(run.sequenceId),
  ]);
  const out = setOf(tasks.filter((t) => t.state === "waiting").map((t) => t.frame));
  const version = versionPlace(sequence);
  return {
    folder: path.join(version, run.handout),
    returnTo: version,
    shares: shares.map((share) => {
      const set = framesOf(share);
      const missing = intersection(set, out);
      return {
        machine: share.machine,
        frames: share.frames,
        count: set.count,
        back: share.takenBackAt === null ? difference(set, missing).count : 0,
        missing: formatPhrase(missing),
        isTakenBack: share.takenBackAt !== null,
        command: `npx plain-tally hand-out ${PLAN_FILE} ${share.frames} --machine ${share.machine} --out frames-of-${share.machine}`,
      };
    }),
  };
}
