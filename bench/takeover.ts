/**
 * A node killed in the middle of a frame at the real lease time: until another has its frame; and a stop-now
 * in the middle: which samples were taken twice.
 */
import { pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { LEASE_SECONDS } from "@/server/queue/lease";
import { listCheckpoints } from "@/server/store/checkpoints";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { type Measured, rounded } from "./measured";
import { until, withRealRun } from "./real-run";
import { listRendering } from "@/server/store/tasks";
import { resumeRun, stopRun } from "@/server/actions/stop-run";

const LIMIT_SECONDS = 30;
/**
 * One frame, long enough to be in its middle: the other node is free. A busy one takes it over when its own
 * is done, however long that takes.
 */
const PLAN = { samples: 200, frames: "1001", keepSamples: true } as const;

export const takeover = (home: string): Promise<Measured> =>
  withRealRun(home, PLAN, async ({ plan, sequenceId, startNode }) => {
    const victim = await startNode("bench-1");
    const { runId } = await startRun({
      sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
    });
    await until("the victim renders", async () =>
      (await listRendering(pool())).some((r) => r.node === "bench-1" && (r.progress ?? 0) > 0),
    );
    await startNode("bench-2");
    await until(
      "the other is there",
      async () =>
        (await rows(pool(), "SELECT 1 FROM node WHERE name = 'bench-2' AND stopped_at IS NULL")).length > 0,
    );
    const frame = (await listRendering(pool()))[0]!.frame;
    // By the database's clock, as the new attempt's start.
    const [killed] = await rows<{ at: Date }>(pool(), "SELECT NOW(3) AS at");
    victim.kill("SIGKILL");
    const successor = () =>
      rows<{ at: Date }>(
        pool(),
        `SELECT a.started_at AS at
          FROM attempt a
          JOIN node n ON n.id = a.node_id
          WHERE a.run_id = ? AND a.frame = ? AND n.name = 'bench-2'`,
        [runId, frame],
      );
    await until("the frame is taken over", async () => (await successor()).length > 0);
    const seconds = ((await successor())[0]!.at.getTime() - killed!.at.getTime()) / 1000;

    await until("it is in the middle", async () =>
      (await listRendering(pool())).some((r) => (r.progress ?? 0) > 0.2),
    );
    const stopped = (await listRendering(pool()))[0]!.frame;
    await stopRun(runId, "now");
    await until("the run has stopped", async () => (await runById(pool(), runId))?.state === "stopped");
    const saved = (await listCheckpoints(pool(), sequenceId)).find((c) => c.frame === stopped);
    await resumeRun(runId);
    await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
    const [end] = await rows<{ added: number }>(
      pool(),
      `SELECT samples_added + 0e0 AS added
        FROM attempt
        WHERE run_id = ? AND frame = ? AND outcome = 'done'`,
      [runId, stopped],
    );
    const held = saved === undefined ? 0 : saved.share * plan.samples;
    // Samples of a pixel that were taken before the stop and again after it.
    const again = held + end!.added - plan.samples;
    return {
      name: "takeover",
      value: rounded(seconds),
      unit: "s",
      yardstick: LEASE_SECONDS,
      ratio: rounded(seconds / LEASE_SECONDS),
      goal: `under ${LIMIT_SECONDS} s from the kill until another node has the frame, at the real lease time (the yardstick); a stop-now loses no sample (${held.toFixed(1)} saved, ${end!.added.toFixed(1)} taken after, ${plan.samples} asked)`,
      holds: seconds < LIMIT_SECONDS && held > 0 && Math.abs(again) < 0.5,
    };
  });
