/** Starting, stopping and resuming runs. */
import path from "node:path";
import type { RunManner } from "@/contract/run-manner";
import type { SceneLighting } from "@/contract/scene";
import { has, members, setOf, union } from "@/core/frames/frame-set";
import type { Plan } from "@/core/plan/plan";
import type { RenderDecision } from "@/core/run/what-to-render";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { freezeScene, readRenderSources } from "../scenes/scene-files";
import { insertRun, lockRun, releaseRun, runById, setLitUntil } from "../store/runs";
import { appendRunEvent, type RunVersion } from "../store/run-versions";
import { type SequenceRow, shotByCode } from "../store/shots";
import {
  decideRun,
  inOrder,
  leadKey,
  leadsOf,
  oneOfEachVersion,
  tasksOf,
  type Wish,
  writtenOut,
} from "./decide-run";
import { openHandOut, readShares, recordHandOut, type WantedShare } from "./hand-out";
import { lightNeed } from "../folder/gathered-light";
import { estimateTasks } from "../views/run-estimate";
import { closeEndedRuns } from "../queue/run-end";
import type { SequenceState } from "../views/tally";
import { versionFolder } from "../files/layout";
import { insertTasks, type NewTask, runCounts } from "../store/tasks";
import { moveRun } from "../store/run-state";
import { retryTasksOfRun } from "../store/task-state";

export interface RunRequest extends Wish, Partial<RunManner> {
  readonly nodes: readonly string[] | null;
  /** A fixed split over machines that are not connected, instead of nodes. */
  readonly shares?: readonly WantedShare[];
}

export interface StartedRun {
  readonly runId: number;
  /** For the sequence in whose sight the run was started. */
  readonly decision: RenderDecision;
  /** Frames of all sequences, each once with its passes. */
  readonly tasks: number;
}

/** Reads the scene, proves that the plan's cameras are in it, and copies it for the run. */
export async function freezeForRun(
  sequence: SequenceRow,
  plan: Plan,
): Promise<Pick<RunVersion, "sceneFolder" | "sources"> & { readonly lighting: SceneLighting | null }> {
  const folder = projectFolder(sequence);
  const scenePath = await insideFolder(folder, plan.scene);
  const onDisk = await readRenderSources(scenePath, plan.renderer);
  const unknown =
    onDisk.cameras === null ? undefined : plan.cameras.find((camera) => !onDisk.cameras!.includes(camera));
  if (unknown !== undefined)
    throw new TallyError("unknown-camera", { camera: unknown }).at(
      "cameras",
      "This camera is not in the scene.",
    );
  if (onDisk.lighting?.only === true) throw new TallyError("scene-writes-no-pictures");
  return {
    sources: onDisk.sources,
    lighting: plan.shading === "full" ? onDisk.lighting : null,
    sceneFolder: await freezeScene(
      scenePath,
      plan.renderer,
      onDisk,
      path.join(folder, versionFolder(sequence.shot, sequence)),
    ),
  };
}

/** The first part of the run: tasks that write no pass, for each cache that is not there. */
async function lightTasks(
  { sequence, revision }: SequenceState,
  sources: RunVersion["sources"],
  lighting: SceneLighting | null,
  tasks: readonly NewTask[],
): Promise<NewTask[]> {
  const made: NewTask[] = [];
  if (lighting === null) return made;
  const leads = await leadsOf(pool(), [sequence.versionId]);
  for (const camera of revision.plan.cameras) {
    const leadId = leads.get(leadKey({ versionId: sequence.versionId, camera }))!;
    const frames = setOf(tasks.filter((t) => t.leadId === leadId).map((t) => t.frame));
    const { missing, unfit } = await lightNeed(
      sequence,
      { plan: revision.plan, sources, every: lighting.every },
      camera,
      frames,
    );
    made.push(
      ...[...members(union(missing, unfit))].map((frame) => ({
        kind: "light" as const,
        leadId,
        frame,
        passes: [],
      })),
    );
  }
  return made;
}

/** Milliseconds since 1970 as the database takes them. */
export const dateOf = (ms: number | null | undefined): Date | null => (ms == null ? null : new Date(ms));

/** Likely seconds of all tasks and of the gathered light before them, version by version; null where nothing of one is timed. */
async function estimateAll(
  states: readonly SequenceState[],
  tasks: readonly NewTask[],
  lit: readonly NewTask[],
  nodes: readonly string[] | null,
): Promise<number | null> {
  let all = 0;
  for (const { sequence, revision } of states) {
    const leads = new Set((await leadsOf(pool(), [sequence.versionId])).values());
    const own = tasks.filter((t) => leads.has(t.leadId));
    const seconds =
      own.length === 0
        ? 0
        : await estimateTasks(
            sequence.versionId,
            revision.plan,
            own,
            lit.filter((t) => leads.has(t.leadId)).length,
            nodes,
          );
    if (seconds === null) return null;
    all += seconds;
  }
  return all;
}

/** Decides on the saved revisions, freezes the scenes, and queues the frames. */
export async function startRun(request: RunRequest): Promise<StartedRun> {
  const decided = await decideRun(request);
  const all = await tasksOf(
    decided.map(({ state, decision }) => ({ sequence: state.sequence, toRender: decision.toRender })),
  );
  const shares =
    request.shares === undefined ? null : readShares(request.shares, request, setOf(all.map((t) => t.frame)));
  const tasks = shares === null ? all : all.filter((t) => shares.some((s) => has(s.set, t.frame)));
  if (tasks.length === 0) throw new TallyError("nothing-to-render");
  const focus = decided.find((d) => d.state.sequence.id === request.sequenceId) ?? decided[0]!;
  const states = oneOfEachVersion([
    focus.state,
    ...decided.filter((d) => d.decision.toRender.count > 0).map((d) => d.state),
  ]);
  const versions: RunVersion[] = [];
  const lit: NewTask[] = [];
  for (const state of states) {
    const { sequence, revision } = state;
    const { lighting, ...frozen } = await freezeForRun(sequence, revision.plan);
    versions.push({ versionId: sequence.versionId, revisionId: revision.id, ...frozen });
    // A machine that is not connected makes its own.
    if (shares === null) lit.push(...(await lightTasks(state, frozen.sources, lighting, tasks)));
  }
  const order = request.order ?? "first-to-last";
  const { wanted, terms } = writtenOut(
    states,
    request.phrase,
    (await shotByCode(pool(), focus.state.sequence.shot))?.markers ?? [],
    order,
  );
  const kept = decided.reduce((all, d) => all + d.decision.keep.reduce((n, k) => n + k.frames.count, 0), 0);
  const estimatedSeconds = shares === null ? await estimateAll(states, tasks, lit, request.nodes) : null;
  const handout =
    shares === null
      ? null
      : await openHandOut(focus.state.sequence, focus.state.revision.plan, versions[0]!.sceneFolder);
  const runId = await transact(async (tx) => {
    const id = await insertRun(tx, {
      sequenceId: focus.state.sequence.id,
      versions,
      policy: request.policy,
      wanted,
      nodes: request.nodes,
      order,
      priority: request.priority ?? 0,
      startAt: dateOf(request.startAt),
      stopAt: dateOf(request.stopAt),
      batch: request.batch ?? null,
      kept,
      estimatedSeconds,
      handout: handout?.folder ?? null,
      kind: "sequence",
      plan: null,
    });
    await insertTasks(tx, id, [...lit, ...inOrder(tasks, order, terms)], "sequence");
    if (lit.length > 0) await setLitUntil(tx, id, lit.length);
    if (handout !== null && shares !== null)
      await recordHandOut(tx, id, handout, focus.state, versions[0]!.sources, shares);
    return id;
  });
  return { runId, decision: focus.decision, tasks: tasks.length };
}

async function requireRun(id: number): Promise<void> {
  if ((await runById(pool(), id)) === null) throw new TallyError("run-unknown");
}

export type StopHow = "after-frames" | "now";

/** Stops a run after the running frames, or at once: then the nodes save the samples of what is in work and give it back. */
export async function stopRun(id: number, how: StopHow): Promise<void> {
  await requireRun(id);
  await transact(async (tx) => {
    if ((await moveRun(tx, id, how === "now" ? "stop-now" : "stop-after-these")) === null)
      throw new TallyError("run-not-active");
  });
  // With nothing in work it has stopped already.
  await closeEndedRuns(pool());
}

/** Goes on with what the run has left, also when it is held; what was set aside waits again, whatever the tally says by now: Resume never asks the policy again. */
export async function resumeRun(id: number): Promise<void> {
  await requireRun(id);
  await transact(async (tx) => {
    const counts = await runCounts(tx, id);
    const { held } = (await lockRun(tx, id))!;
    if (counts.waiting + counts.leased + counts.failed === 0) throw new TallyError("run-finished");
    const moved = await moveRun(tx, id, "go-on");
    if (moved === null && held === null && counts.failed === 0) throw new TallyError("run-active");
    await releaseRun(tx, id);
    await retryTasksOfRun(tx, id);
    await appendRunEvent(tx, id);
  });
}
