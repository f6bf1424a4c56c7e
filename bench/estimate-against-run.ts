/**
 * A real run of HL020 against the estimate from three proofs: real database, real node process, real files.
 */
import { costModel } from "@/core/estimate/cost-model";
import { estimateRun } from "@/core/estimate/estimate";
import { parsePhrase } from "@/core/frames/phrase";
import { scaledSize } from "@/core/plan/picture";
import { pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { startProofs } from "@/server/actions/proofs";
import { startRun } from "@/server/actions/start-run";
import { type Measured, rounded } from "./measured";
import { until, withRealRun } from "./real-run";
import { viewProofs } from "@/server/views/proofs";
import { runCounts } from "@/server/store/tasks";

const LIMIT = 0.2;

const isEmpty = async (runId: number): Promise<boolean> => {
  const { waiting, leased } = await runCounts(pool(), runId);
  return waiting + leased === 0;
};

export const estimateAgainstRun = (home: string): Promise<Measured> =>
  withRealRun(home, {}, async ({ plan, sequenceId, startNode }) => {
    await startNode("bench-1");
    const { runs } = await startProofs(sequenceId, {
      phrase: "first,middle,last",
      plan,
      nodes: null,
      strip: null,
    });
    await until("the proofs are done", async () => isEmpty(runs[0]!));
    const asked = parsePhrase(plan.frames);
    const { proofs } = await viewProofs(sequenceId);
    const model = costModel(
      proofs.flatMap((p) => p.frames.map((f) => f.cost)),
      plan,
    );
    if (model === null || !asked.ok) throw new Error("There is no proof to rest on.");
    const { width, height } = scaledSize(plan);
    const { likelySeconds } = estimateRun(model, {
      frames: asked.set,
      cameras: 1,
      lighting: null,
      target: { pixels: width * height, samples: plan.samples, isDenoised: false, timeLimit: null },
      speeds: [1],
      lostShare: 0,
    });
    const { runId } = await startRun({
      sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
    });
    await until("the run is done", () => isEmpty(runId));
    const [spent] = await rows<{ seconds: number }>(
      pool(),
      `SELECT TIMESTAMPDIFF(MICROSECOND, MIN(started_at), MAX(ended_at)) / 1e6 + 0e0 AS seconds
        FROM attempt
        WHERE run_id = ? AND outcome = 'done'`,
      [runId],
    );
    const value = spent!.seconds;
    const off = Math.abs(likelySeconds / value - 1);
    return {
      name: "estimate-against-run",
      value: rounded(value),
      unit: "s",
      yardstick: rounded(likelySeconds),
      ratio: rounded(value / likelySeconds),
      goal: `a real run of HL020 (72 frames, one node) within ${LIMIT * 100} % of the estimate from 3 proofs (the yardstick)`,
      holds: off <= LIMIT,
    };
  });
