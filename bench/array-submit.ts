/** How long it takes until a batch system has a run of 10,000 frames, and what a look at it costs then. */
import fs from "node:fs/promises";
import path from "node:path";
import { sendRun } from "@/server/actions/send-run";
import { startRun } from "@/server/actions/start-run";
import { lookAtCluster } from "@/server/cluster/follow-cluster";
import { pool } from "@/server/db/pool";
import { dispatchOfRun } from "@/server/store/dispatches";
import { startSlurm } from "../scripts/lib/slurm.mjs";
import { type Measured, rounded } from "./measured";
import { withRealRun } from "./real-run";

const FRAMES = 10_000;
const MOST_SECONDS = 5;
const MACHINE = "lamp-1";

const secondsOf = async (work: () => Promise<unknown>): Promise<number> => {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
};

export const arraySubmit = (home: string): Promise<Measured> =>
  withRealRun(home, { frames: `1-${FRAMES}` }, async ({ sequenceId }) => {
    const folder = path.join(home, "var/bench-cluster");
    await fs.rm(folder, { recursive: true, force: true });
    const slurm = await startSlurm(folder, [MACHINE]);
    const before = process.env.PLAIN_TALLY_CONFIG;
    process.env.PLAIN_TALLY_CONFIG = path.join(folder, "plain-tally.config.json");
    try {
      await fs.writeFile(
        process.env.PLAIN_TALLY_CONFIG,
        JSON.stringify({ cluster: { settings: slurm.settings } }),
      );
      // Nothing begins: what is measured is the way there.
      await slurm.ask("scontrol", "update", `NodeName=${MACHINE}`, "State=DRAIN", "Reason=bench");
      const { runId } = await startRun({
        sequenceId,
        phrase: "all",
        policy: "fill",
        nodes: null,
        scope: "version",
      });
      const seconds = await secondsOf(() => sendRun(runId, {}, null));
      const look = await secondsOf(() => lookAtCluster(pool(), 10));
      const { waits, jobs } = (await dispatchOfRun(pool(), runId))!;
      return {
        name: "array-submit",
        value: rounded(seconds),
        unit: "s",
        yardstick: MOST_SECONDS,
        ratio: rounded(seconds / MOST_SECONDS),
        goal: `${FRAMES} frames are with the batch system within ${MOST_SECONDS} s (the yardstick); it has ${waits} in ${jobs.length} array, and a look at them takes ${rounded(look)} s`,
        holds: seconds < MOST_SECONDS && waits === FRAMES,
      };
    } finally {
      if (before === undefined) delete process.env.PLAIN_TALLY_CONFIG;
      else process.env.PLAIN_TALLY_CONFIG = before;
      await slurm.end();
    }
  });
