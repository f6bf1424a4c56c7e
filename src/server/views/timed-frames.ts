/** Frames of a version whose seconds are known: its proofs, and what its runs have made. */
import type { CostSample } from "@/core/estimate/cost-model";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import { pool } from "../db/pool";
import { lostShare, timedAttempts } from "../store/costs";
import { proofsOfVersion, type TimedProof } from "../store/proofs";
import { planOfRun } from "../store/runs";
import { revisionsOfVersion } from "../store/shots";

/** Proofs that an estimate takes in: the newest so many; more would change no figure that is shown. */
export const PROOFS_READ = 400;
/** Frames of earlier runs that it takes in, newest first. */
export const HISTORY = 400;

/** A proof as the estimate takes it: pixels and samples beside the seconds of each part, all of one frame. */
export const costOf = (p: TimedProof): CostSample => ({
  frame: p.frame,
  node: p.node,
  pixels: p.width * p.height,
  samples: p.samples,
  startupSeconds: p.startupSeconds,
  renderSeconds: p.renderSeconds,
  denoiseSeconds: p.denoiseSeconds,
  writeSeconds: p.writeSeconds,
  otherLoad: p.otherLoad,
  cpuShare: p.cpuShare,
});

/**
 * What runs have made, as far as it says something of the newest plan: frames of another scene or shading
 * cost something else.
 */
export async function timedHistory(versionId: number): Promise<CostSample[]> {
  const [revisions, attempts] = await Promise.all([
    revisionsOfVersion(pool(), versionId),
    timedAttempts(pool(), versionId, HISTORY),
  ]);
  const [newest] = revisions;
  const alike = revisions.filter(
    (r) => r.plan.scene === newest?.plan.scene && r.plan.shading === newest.plan.shading,
  );
  const sizes = new Map(alike.map((r) => [r.id, scaledSize(r.plan)]));
  return attempts.flatMap((a): CostSample[] => {
    const size = sizes.get(a.revisionId);
    if (size === undefined) return [];
    const { revisionId: _revision, ...timed } = a;
    return [{ ...timed, pixels: size.width * size.height }];
  });
}

/** All that is timed and says something of a plan. */
export async function timedFrames(
  versionId: number,
  plan: Plan,
): Promise<{ readonly samples: readonly CostSample[]; readonly lostShare: number }> {
  const [proofs, history, lost] = await Promise.all([
    proofsOfVersion(pool(), versionId, PROOFS_READ),
    timedHistory(versionId),
    lostShare(pool(), HISTORY),
  ]);
  const plans = new Map<number, Plan | null>();
  for (const { runId } of proofs) if (!plans.has(runId)) plans.set(runId, await planOfRun(pool(), runId));
  const isAlike = (p: TimedProof): boolean => {
    const own = plans.get(p.runId);
    return (
      own != null &&
      own.shading === plan.shading &&
      own.scene === plan.scene &&
      own.renderer === plan.renderer
    );
  };
  // A frame's passes come from one render: its beauty tells the time.
  return {
    samples: [...proofs.filter((p) => p.pass === "beauty" && isAlike(p)).map(costOf), ...history],
    lostShare: lost,
  };
}
