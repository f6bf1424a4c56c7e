/** A real run of HL020 against the estimate from three proofs: real database, real node process, real files. */
import { type ChildProcess, spawn } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { costModel } from "@/core/estimate/cost-model";
import { estimateRun } from "@/core/estimate/estimate";
import { parsePhrase } from "@/core/frames/phrase";
import { scaledSize } from "@/core/plan/picture";
import { copyScenes } from "@/demo/seed";
import { PROJECT, SHOTS } from "@/demo/project";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { listNodes } from "@/server/store/nodes";
import { runCounts } from "@/server/store/runs";
import { insertProject, insertShot } from "@/server/store/shots";
import { openVersion } from "@/server/work/save-plan";
import { startProofs, viewProofs } from "@/server/work/proofs";
import { startRun } from "@/server/work/start-run";
import { type Measured, rounded } from "./measured";

const LIMIT = 0.2;
const LOOK_MS = 100;
const PATIENCE_MS = 300_000;
const NODE = "bench-1";

async function until(what: string, isTrue: () => Promise<boolean>): Promise<void> {
  const deadline = performance.now() + PATIENCE_MS;
  while (!(await isTrue())) {
    if (performance.now() > deadline) throw new Error(`It did not come true: ${what}`);
    await pause(LOOK_MS);
  }
}
const isEmpty = async (runId: number): Promise<boolean> => {
  const { waiting, leased } = await runCounts(pool(), runId);
  return waiting + leased === 0;
};

export async function estimateAgainstRun(home: string): Promise<Measured> {
  const root = path.join(home, "var/bench-frames");
  await fs.rm(root, { recursive: true, force: true });
  await fs.mkdir(root, { recursive: true });
  process.env.PLAIN_TALLY_ROOTS = `frames=${root}`;
  let node: ChildProcess | null = null;
  try {
    await migrate(pool(), path.join(home, "db/migrations"));
    await copyScenes();
    const shot = SHOTS.find((s) => s.code === "HL020")!;
    const projectId = await insertProject(pool(), PROJECT);
    await insertShot(pool(), { projectId, code: shot.code, title: shot.title, firstFrame: shot.first, lastFrame: shot.last, markers: shot.markers });
    const { sequenceId } = await openVersion(shot.code, shot.plan);
    node = spawn(process.execPath, [path.join(home, "bin/plain-tally.mjs"), "node", "--name", NODE], { env: { ...process.env, NODE_ENV: "production" }, stdio: "ignore" });
    await until("the node is there", async () => (await listNodes(pool())).length > 0);
    const { runs } = await startProofs(sequenceId, { phrase: "first,middle,last", plan: shot.plan, nodes: null, strip: null });
    await until("the proofs are done", async () => isEmpty(runs[0]!));
    const asked = parsePhrase(shot.plan.frames);
    const { proofs } = await viewProofs(sequenceId);
    const model = costModel(proofs.flatMap((p) => p.frames.map((f) => f.cost)));
    if (model === null || !asked.ok) throw new Error("There is no proof to rest on.");
    const { width, height } = scaledSize(shot.plan);
    const { likelySeconds } = estimateRun(model, { frames: asked.set, cameras: 1, target: { pixels: width * height, samples: shot.plan.samples, isDenoised: false, timeLimit: null }, speeds: [1], lostShare: 0 });
    const { runId } = await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" });
    await until("the run is done", () => isEmpty(runId));
    const [spent] = await rows<{ seconds: number }>(pool(), "SELECT TIMESTAMPDIFF(MICROSECOND, MIN(started_at), MAX(ended_at)) / 1e6 + 0e0 AS seconds FROM attempt WHERE run_id = ? AND outcome = 'done'", [runId]);
    const value = spent!.seconds;
    const off = Math.abs(likelySeconds / value - 1);
    return { name: "estimate-against-run", value: rounded(value), unit: "s", yardstick: rounded(likelySeconds), ratio: rounded(value / likelySeconds), goal: `a real run of HL020 (72 frames, one node) within ${LIMIT * 100} % of the estimate from 3 proofs (the yardstick)`, holds: off <= LIMIT };
  } finally {
    node?.kill("SIGTERM");
    await closePool();
    await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
  }
}
