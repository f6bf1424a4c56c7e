/** Starting, stopping and resuming runs. */
import path from "node:path";
import type { RunManner } from "@/contract/run-state";
import { type FrameSet, intersection, members, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase, phraseTerms } from "@/core/frames/phrase";
import type { Plan } from "@/core/plan/plan";
import { orderFrames, type RunOrder } from "@/core/plan/run-order";
import { framesToRender, type Policy, type RenderDecision, sharePasses } from "@/core/plan/what-to-render";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder, versionFolder } from "../files/paths";
import { freezeScene, readRenderSources, type RenderSources } from "../files/scene-files";
import { appendEvent } from "../store/events";
import { insertRun, insertTasks, lockRun, moveRun, type NewTask, releaseRun, retryFailed, runById, runCounts, type RunRow } from "../store/runs";
import type { Marker } from "@/core/plan/notes";
import { type SequenceRow, sequencesOfVersion, shotByCode } from "../store/shots";
import { catchUp } from "./folder-state";
import { estimateTasks } from "./run-estimate";
import { closeEndedRuns } from "./run-end";
import { loadSequence, loadVersion, namesOf, requireSequence, type SequenceState } from "./tally";

/** One sequence, or all that the version's plan asks for. */
export const SCOPES = ["version", "sequence"] as const;
export type RunScope = (typeof SCOPES)[number];

export interface RunRequest extends Partial<RunManner> {
  readonly sequenceId: number;
  readonly scope: RunScope;
  readonly phrase: string;
  readonly policy: Policy;
  readonly nodes: readonly string[] | null;
}

export interface DecidedSequence {
  readonly state: SequenceState;
  readonly decision: RenderDecision;
}

export interface StartedRun {
  readonly runId: number;
  /** For the sequence in whose sight the run was started. */
  readonly decision: RenderDecision;
  /** Frames of all sequences, each once with its passes. */
  readonly tasks: number;
}

function wantedFrames(state: SequenceState, phrase: string, markers: readonly Marker[]): FrameSet {
  const wanted = parsePhrase(phrase, namesOf(state, markers));
  if (!wanted.ok) throw new TallyError(wanted.error.code, wanted.error.message, [{ field: "phrase", code: wanted.error.code, message: wanted.error.message }]);
  return wanted.set;
}

/** A phrase in plain numbers, because what a name means changes while a run goes; its terms apart where their order counts. */
export function writtenOut(state: SequenceState, phrase: string, markers: readonly Marker[], order: RunOrder): { readonly wanted: string; readonly set: FrameSet; readonly terms: readonly FrameSet[] } {
  const set = wantedFrames(state, phrase, markers);
  const terms = phraseTerms(phrase, namesOf(state, markers)).map((term) => intersection(term, set));
  return { set, terms, wanted: order === "as-written" ? terms.filter((term) => term.count > 0).map(formatPhrase).join(",") : formatPhrase(set) };
}

/** What a request would render in each sequence of its scope: a name such as `missing` means each one's own. Looks at the folders first. */
export async function decideRun(request: RunRequest): Promise<readonly DecidedSequence[]> {
  const focus = await requireSequence(request.sequenceId);
  const rows = request.scope === "version" ? await sequencesOfVersion(pool(), focus.versionId) : [focus];
  for (const row of rows) await catchUp(row);
  const states = request.scope === "version" ? await loadVersion(focus) : [await loadSequence(focus.id)];
  const markers = (await shotByCode(pool(), focus.shot))?.markers ?? [];
  return states.map((state) => ({ state, decision: framesToRender(state.tally, wantedFrames(state, request.phrase, markers), request.policy) }));
}

/** Tasks of the decided sequences: each frame of a camera once, with the passes that need it. */
export async function tasksOf(decided: readonly { readonly sequence: SequenceRow; readonly toRender: FrameSet }[]): Promise<NewTask[]> {
  const tasks: NewTask[] = [];
  const [any] = decided;
  if (any === undefined) return tasks;
  const leads = new Map((await sequencesOfVersion(pool(), any.sequence.versionId)).filter((s) => s.pass === "beauty").map((s) => [s.camera, s.id]));
  for (const camera of new Set(decided.map((d) => d.sequence.camera))) {
    const parts = sharePasses(decided.filter((d) => d.sequence.camera === camera).map((d) => ({ pass: d.sequence.pass, toRender: d.toRender })));
    const ofCamera = parts.flatMap(({ passes, frames }) => [...members(frames)].map((frame) => ({ leadId: leads.get(camera)!, frame, passes })));
    tasks.push(...ofCamera);
  }
  return tasks;
}

/** Puts tasks in the order of a run; the cameras of a frame one after the other. */
export function inOrder<T extends { readonly leadId: number; readonly frame: number }>(tasks: readonly T[], order: RunOrder, terms: readonly FrameSet[]): T[] {
  const places = new Map(orderFrames(setOf(tasks.map((t) => t.frame)), order, terms).map((frame, i) => [frame, i]));
  return [...tasks].sort((a, b) => places.get(a.frame)! - places.get(b.frame)! || a.leadId - b.leadId);
}

/** Reads the scene, proves that the plan's cameras are in it, and copies it for the run. */
export async function freezeForRun(sequence: SequenceRow, plan: Plan): Promise<{ readonly sceneFolder: string; readonly onDisk: RenderSources }> {
  const folder = projectFolder(sequence);
  const scenePath = await insideFolder(folder, plan.scene);
  const onDisk = await readRenderSources(scenePath, plan.renderer);
  const unknown = onDisk.cameras === null ? undefined : plan.cameras.find((camera) => !onDisk.cameras!.includes(camera));
  if (unknown !== undefined) throw new TallyError("unknown-camera", `The scene has no camera "${unknown}" any more.`, [{ field: "cameras", code: "unknown-camera", message: "This camera is not in the scene." }]);
  return { onDisk, sceneFolder: await freezeScene(scenePath, plan.renderer, onDisk, path.join(folder, versionFolder(sequence.shot, sequence))) };
}

/** Milliseconds since 1970 as the database takes them. */
export const dateOf = (ms: number | null | undefined): Date | null => (ms == null ? null : new Date(ms));

/** Decides on the saved revision, freezes the scene, and queues the frames. */
export async function startRun(request: RunRequest): Promise<StartedRun> {
  const decided = await decideRun(request);
  const tasks = await tasksOf(decided.map(({ state, decision }) => ({ sequence: state.sequence, toRender: decision.toRender })));
  if (tasks.length === 0) throw new TallyError("nothing-to-render", "Nothing of this needs rendering under this choice.");
  const focus = decided.find((d) => d.state.sequence.id === request.sequenceId) ?? decided[0]!;
  const { sequence, revision } = focus.state;
  const { sceneFolder, onDisk } = await freezeForRun(sequence, revision.plan);
  const order = request.order ?? "first-to-last";
  const { wanted, terms } = writtenOut(focus.state, request.phrase, (await shotByCode(pool(), sequence.shot))?.markers ?? [], order);
  const kept = decided.reduce((all, d) => all + d.decision.keep.reduce((n, k) => n + k.frames.count, 0), 0);
  const estimatedSeconds = await estimateTasks(sequence.versionId, revision.plan, tasks, request.nodes);
  const runId = await transact(async (tx) => {
    const id = await insertRun(tx, { sequenceId: sequence.id, revisionId: revision.id, policy: request.policy, wanted, nodes: request.nodes, order, priority: request.priority ?? 0, startAt: dateOf(request.startAt), stopAt: dateOf(request.stopAt), batch: request.batch ?? null, kept, estimatedSeconds, sceneFolder, sources: onDisk.sources, kind: "sequence", plan: null });
    await insertTasks(tx, id, inOrder(tasks, order, terms), "sequence");
    await appendEvent(tx, "run", sequence.id, id);
    return id;
  });
  return { runId, decision: focus.decision, tasks: tasks.length };
}

async function requireRun(id: number): Promise<RunRow> {
  const run = await runById(pool(), id);
  if (run === null) throw new TallyError("run-unknown", "This run does not exist.");
  return run;
}

export type StopHow = "after-frames" | "now";

/** Stops a run after the running frames, or at once: then the nodes save the samples of what is in work and give it back. */
export async function stopRun(id: number, how: StopHow): Promise<void> {
  const run = await requireRun(id);
  await transact(async (tx) => {
    const moved = await moveRun(tx, id, ["active", "stopping"], how === "now" ? "halting" : "stopping");
    if (!moved) throw new TallyError("run-not-active", "This run has ended already.");
    await appendEvent(tx, "run", run.sequenceId, id);
  });
  // With nothing in work it has stopped already.
  await closeEndedRuns(pool());
}

/** Goes on with what the run has left, also when it is held; what was set aside waits again, whatever the tally says by now: Resume never asks the policy again. */
export async function resumeRun(id: number): Promise<void> {
  const run = await requireRun(id);
  await transact(async (tx) => {
    const counts = await runCounts(tx, id);
    const { held } = (await lockRun(tx, id))!;
    if (counts.waiting + counts.leased + counts.failed === 0) throw new TallyError("run-finished", "This run has nothing left.");
    const moved = await moveRun(tx, id, ["stopped", "stopping", "halting", "done"], "active");
    if (!moved && held === null && counts.failed === 0) throw new TallyError("run-active", "This run goes on already.");
    await releaseRun(tx, id);
    await retryFailed(tx, id);
    await appendEvent(tx, "run", run.sequenceId, id);
  });
}
