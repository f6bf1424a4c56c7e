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

export const PLAN_FILE = "hand-out.json";

export async function requireHandOut(runId: number): Promise<RunRow & { readonly handout: string }> {
  const run = await runById(pool(), runId);
  if (run === null || run.handout === null) throw new TallyError("hand-out-unknown");
  return { ...run, handout: run.handout };
}

export const framesOf = ({ frames }: ShareRow): FrameSet => {
  const read = parsePhrase(frames);
  if (!read.ok) throw new Error(`A share holds "${frames}".`);
  return read.set;
};

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
