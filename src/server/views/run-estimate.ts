/** How long a run is likely to take, when it starts: kept with it, so that its end can be compared. */
import { cacheSeconds, costModel } from "@/core/estimate/cost-model";
import { nodeSlots } from "@/core/estimate/node-slots";
import { estimateRun } from "@/core/estimate/estimate";
import { setOf } from "@/core/frames/frame-set";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import { pool } from "../db/pool";
import { mayTake } from "@/core/run/who-takes";
import { readTakers } from "../queue/takers";
import { plannedNodes } from "../store/nodes";
import { timedLight } from "../store/costs";
import { HISTORY, timedFrames } from "./timed-frames";
import type { NewTask } from "../store/tasks";

/**
 * Likely seconds of what a run is about to render, from timed frames of its version; null where there are
 * none, or none of the gathered light that it makes.
 * @param caches gathered light that it makes first
 * @param nodes that take part; null: those that would take frames now
 */
export async function estimateTasks(
  versionId: number,
  plan: Plan,
  tasks: readonly NewTask[],
  caches: number,
  nodes: readonly string[] | null,
): Promise<number | null> {
  const [{ samples, lostShare }, timed] = await Promise.all([
    timedFrames(versionId, plan),
    timedLight(pool(), versionId, HISTORY),
  ]);
  const model = costModel(samples, plan);
  const seconds = cacheSeconds(timed, plan);
  if (model === null || (caches > 0 && seconds === null)) return null;
  const taking =
    nodes === null
      ? (await readTakers(pool())).willing
      : (await plannedNodes(pool())).filter((n) => mayTake(nodes, n));
  const { width, height } = scaledSize(plan);
  const target = {
    pixels: width * height,
    samples: plan.samples,
    isDenoised: plan.passes.includes("denoised"),
    timeLimit: plan.timeLimit,
  };
  return estimateRun(model, {
    frames: setOf(tasks.map((t) => t.frame)),
    cameras: new Set(tasks.map((t) => t.leadId)).size,
    lighting: seconds === null ? null : { caches, seconds },
    target,
    lostShare,
    speeds: nodeSlots(taking, model.speeds, model.threads).speeds,
  }).likelySeconds;
}
