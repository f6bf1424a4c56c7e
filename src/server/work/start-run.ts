/** Starting, stopping and resuming runs. */
import path from "node:path";
import { EMPTY, members } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { framesToRender, type Policy, type RenderDecision } from "@/core/plan/what-to-render";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder, versionFolder } from "../files/paths";
import { freezeScene, readSceneOnDisk } from "../files/scene-files";
import { appendEvent } from "../store/events";
import { insertRun, insertTasks, moveRun, retryFailed, revokeLeases, runById, runCounts, type RunRow } from "../store/runs";
import { shotByCode } from "../store/shots";
import { catchUp } from "./folder-state";
import { loadSequence, namesOf, requireSequence } from "./tally";
import { makeCamera } from "@/render/world";

export interface RunRequest {
  readonly sequenceId: number;
  readonly phrase: string;
  readonly policy: Policy;
  readonly nodes: readonly string[] | null;
}

export interface StartedRun {
  readonly runId: number;
  readonly decision: RenderDecision;
}

/** Looks at the folder first, decides on the saved revision, freezes the scene, and queues the frames. */
export async function startRun(request: RunRequest): Promise<StartedRun> {
  await catchUp(await requireSequence(request.sequenceId));
  const state = await loadSequence(request.sequenceId);
  const { sequence, revision, read } = state;
  const shot = await shotByCode(pool(), sequence.shot);
  const wanted = parsePhrase(request.phrase, namesOf(state, shot?.markers ?? []));
  if (!wanted.ok) throw new TallyError(wanted.error.code, wanted.error.message, [{ field: "phrase", code: wanted.error.code, message: wanted.error.message }]);
  const decision = framesToRender(state.tally, wanted.set, request.policy);
  if (decision.toRender === EMPTY || decision.toRender.count === 0) throw new TallyError("nothing-to-render", "Nothing of this needs rendering under this choice.");
  const folder = projectFolder(sequence);
  const scenePath = await insideFolder(folder, read.plan.scene);
  const onDisk = await readSceneOnDisk(scenePath, sequence.pass);
  if (makeCamera(onDisk.scene, sequence.camera, shot?.firstFrame ?? 0) === null) {
    throw new TallyError("unknown-camera", `The scene has no camera "${sequence.camera}" any more.`, [{ field: "camera", code: "unknown-camera", message: "This camera is not in the scene." }]);
  }
  const sceneFolder = await freezeScene(scenePath, onDisk, path.join(folder, versionFolder(sequence.shot, sequence.version)));
  const runId = await transact(async (tx) => {
    const id = await insertRun(tx, { sequenceId: sequence.id, revisionId: revision.id, policy: request.policy, wanted: formatPhrase(wanted.set), nodes: request.nodes, sceneFolder, sources: onDisk.sources });
    await insertTasks(tx, id, sequence.id, members(decision.toRender));
    await appendEvent(tx, "run", sequence.id, id);
    return id;
  });
  return { runId, decision };
}

async function requireRun(id: number): Promise<RunRow> {
  const run = await runById(pool(), id);
  if (run === null) throw new TallyError("run-unknown", "This run does not exist.");
  return run;
}

export type StopHow = "after-frames" | "now";

/** Stops a run after the running frames, or at once; at once gives the running frames back and their work is lost. */
export async function stopRun(id: number, how: StopHow): Promise<void> {
  const run = await requireRun(id);
  await transact(async (tx) => {
    const moved = await moveRun(tx, id, ["active", "stopping"], how === "now" ? "stopped" : "stopping");
    if (!moved) throw new TallyError("run-not-active", "This run has ended already.");
    if (how === "now") await revokeLeases(tx, id);
    await appendEvent(tx, "run", run.sequenceId, id);
  });
}

/** Goes on with what the run has left, whatever the tally says by now: Resume never asks the policy again. */
export async function resumeRun(id: number): Promise<void> {
  const run = await requireRun(id);
  await transact(async (tx) => {
    const counts = await runCounts(tx, id);
    if (counts.waiting + counts.leased + counts.failed === 0) throw new TallyError("run-finished", "This run has nothing left.");
    const moved = await moveRun(tx, id, ["stopped", "stopping", "done"], "active");
    if (!moved) throw new TallyError("run-active", "This run goes on already.");
    await retryFailed(tx, id);
    await appendEvent(tx, "run", run.sequenceId, id);
  });
}
