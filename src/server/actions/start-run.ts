/**
 * Starting a run. What it renders is decided outside of any lock (prepare-run), judged by the
 * preflight, and decided again on what is read while the versions are locked: of two equal starts at
 * one moment the second finds nothing left, and says so. Files are copied before the lock is taken.
 */
import { type FrameSet, has, members, setOf, union, unionAll } from "@/core/frames/frame-set";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import { framesKept, writeOut } from "@/core/run/decide";
import type { Who } from "@/contract/who";
import { verdictOf } from "@/core/run/preflight";
import { frameTasks, inOrder, leadKey } from "@/core/run/run-tasks";
import type { RenderDecision } from "@/core/run/what-to-render";
import { pool, transact, type Tx } from "../db/pool";
import { dateOf, type Db } from "../db/rows";
import { TallyError } from "../errors";
import { lightNeed, takeOverLight } from "../folder/gathered-light";
import { noteDeed } from "../store/deeds";
import { insertRun, setLitUntil } from "../store/runs";
import type { RunVersion } from "../store/run-versions";
import { latestRevision, leadsOf, lockVersions } from "../store/shots";
import { insertTasks, type NewTask } from "../store/tasks";
import { estimateTasks } from "../views/run-estimate";
import type { SequenceState } from "../views/tally";
import { type FrozenScene, freezeForRun } from "./freeze";
import { openHandOut, type ReadShare, readShares, recordHandOut } from "./hand-out";
import { requireAwaitable } from "./order-runs";
import { preflightOf } from "./preflight";
import {
  type CoveredScene,
  decideOn,
  type DecidedSequence,
  oneOfEachVersion,
  type PreparedRun,
  prepareRun,
} from "./prepare-run";
import type { RunRequest } from "./run-request";

export interface StartedRun {
  readonly runId: number;
  /** For the sequence in whose sight the run was started. */
  readonly decision: RenderDecision;
  /** Frames of all sequences, each once with its passes. */
  readonly tasks: number;
}

/** A red point of the preflight stops the start. Nothing to render is told by the start itself. */
async function requirePreflight(request: RunRequest, prepared: PreparedRun): Promise<void> {
  const stops = (await preflightOf(request, prepared)).filter(
    (point) => verdictOf(point) === "stop" && point.code !== "nothing-to-render",
  );
  if (stops.length > 0)
    throw new TallyError("preflight-stops").with(
      stops.map((point) => ({ field: "preflight", code: point.code, message: point.code })),
    );
}

/** What a decision comes to: tasks of frames, and the machines that get them where they are handed out. */
interface DecidedTasks {
  readonly decided: readonly DecidedSequence[];
  /** The one in whose sight the run is started first, then one of each version that has frames to render. */
  readonly states: readonly SequenceState[];
  readonly focus: DecidedSequence;
  /** In the order of the run. */
  readonly tasks: readonly NewTask[];
  /** Null: nodes lease them. */
  readonly shares: readonly ReadShare[] | null;
}

/** In a sentence. */
const told = (set: FrameSet): string => shorten(formatPhrase(set));

/** Why there is nothing to do: all of it is fine, or none of it is in the plan. */
function nothingFor(focus: DecidedSequence, decided: readonly DecidedSequence[]): TallyError {
  const notAsked = unionAll(decided.map((d) => d.decision.notAsked));
  return notAsked.count > 0 && decided.every((d) => d.decision.keep.length === 0)
    ? new TallyError("frames-not-planned", { frames: told(notAsked), asked: told(focus.of.read.asked) })
    : new TallyError("nothing-to-render");
}

/** The tasks that the decision comes to, in the order that was asked for. */
async function tasksOf(
  db: Db,
  request: RunRequest,
  decided: readonly DecidedSequence[],
): Promise<DecidedTasks> {
  const focus = decided.find((d) => d.of.sequence.id === request.sequenceId) ?? decided[0];
  if (focus === undefined) throw new TallyError("sequence-not-planned");
  const leads = await leadsOf(db, [...new Set(decided.map((d) => d.of.sequence.versionId))]);
  const all = frameTasks(
    decided.map(({ of: { sequence }, decision }) => ({ ...sequence, toRender: decision.toRender })),
    leads,
  );
  const shares =
    request.shares === undefined ? null : readShares(request.shares, request, setOf(all.map((t) => t.frame)));
  const tasks = shares === null ? all : all.filter((t) => shares.some((s) => has(s.set, t.frame)));
  if (tasks.length === 0) throw nothingFor(focus, decided);
  const states = oneOfEachVersion([
    focus.of,
    ...decided.filter((d) => d.decision.toRender.count > 0).map((d) => d.of),
  ]);
  return { decided, states, focus, tasks, shares };
}

/** A version of the run with its frozen scene, and the light that its frames lack, by beauty sequence. */
interface FrozenVersion extends RunVersion {
  readonly lightNeeded: ReadonlyMap<number, ReadonlySet<number>>;
}

/** Light that is not there, or not fit, for the frames of each camera. */
async function lightNeeded(
  { sequence, revision }: SequenceState,
  { sources, lighting }: FrozenScene,
  tasks: readonly NewTask[],
): Promise<ReadonlyMap<number, ReadonlySet<number>>> {
  const needed = new Map<number, ReadonlySet<number>>();
  if (lighting === null) return needed;
  const leads = await leadsOf(pool(), [sequence.versionId]);
  for (const camera of revision.plan.cameras) {
    const leadId = leads.get(leadKey({ versionId: sequence.versionId, camera }))!;
    const frames = setOf(tasks.filter((t) => t.leadId === leadId).map((t) => t.frame));
    const wish = { plan: revision.plan, sources, every: lighting.every };
    const need = await lightNeed(sequence, wish, camera, frames);
    await takeOverLight(sequence, wish, need);
    const { missing, unfit } =
      need.elsewhere.size === 0 ? need : await lightNeed(sequence, wish, camera, frames);
    needed.set(leadId, new Set(members(union(missing, unfit))));
  }
  return needed;
}

/** Copies of the scenes, before any lock: copying takes as long as a share takes. */
async function freezeVersions(
  { covered }: PreparedRun,
  { states, tasks, shares }: DecidedTasks,
): Promise<FrozenVersion[]> {
  const versions: FrozenVersion[] = [];
  for (const state of states) {
    const { sequence, revision } = state;
    const { scene } = covered.find((c) => c.versionId === sequence.versionId)!;
    const frozen = await freezeForRun(sequence, revision.plan, scene);
    versions.push({
      versionId: sequence.versionId,
      revisionId: revision.id,
      sceneFolder: frozen.sceneFolder,
      sources: frozen.sources,
      // A machine that is not connected gathers its own.
      lightNeeded: shares === null ? await lightNeeded(state, frozen, tasks) : new Map(),
    });
  }
  return versions;
}

/** The first part of a two-part run: tasks that write no pass. */
const lightTasks = (versions: readonly FrozenVersion[]): NewTask[] =>
  versions.flatMap(({ lightNeeded: needed }) =>
    [...needed].flatMap(([leadId, frames]) =>
      [...frames].map((frame) => ({ kind: "light" as const, leadId, frame, passes: [] })),
    ),
  );

/**
 * Likely seconds of all tasks and of the gathered light before them, version by version; null where nothing
 * of one is timed.
 */
async function estimateAll(
  { states, tasks }: DecidedTasks,
  lit: readonly NewTask[],
  nodes: readonly string[] | null,
): Promise<number | null> {
  let all = 0;
  for (const { sequence, revision } of states) {
    const leads = new Set((await leadsOf(pool(), [sequence.versionId])).values());
    const own = tasks.filter((t) => leads.has(t.leadId));
    const lights = lit.filter((t) => leads.has(t.leadId)).length;
    const seconds =
      own.length === 0 ? 0 : await estimateTasks(sequence.versionId, revision.plan, own, lights, nodes);
    if (seconds === null) return null;
    all += seconds;
  }
  return all;
}

/**
 * Decides once more under the lock. A plan that was saved meanwhile is another wish.
 * @param frozen versions that had something to render: one that came free meanwhile has no scene in this run
 */
async function decideLocked(
  tx: Tx,
  request: RunRequest,
  { covered }: PreparedRun,
  frozen: readonly RunVersion[],
): Promise<DecidedTasks> {
  await lockVersions(
    tx,
    covered.map((c) => c.versionId),
  );
  for (const { versionId, revisionId } of covered)
    if ((await latestRevision(tx, versionId))?.id !== revisionId)
      throw new TallyError("plan-saved-meanwhile");
  const isFrozen = ({ versionId }: CoveredScene): boolean => frozen.some((f) => f.versionId === versionId);
  return tasksOf(tx, request, await decideOn(request, covered.filter(isFrozen), tx));
}

/** Decides on the saved revisions, freezes the scenes, and queues the frames. */
export async function startRun(request: RunRequest, who: Who = null): Promise<StartedRun> {
  const prepared = await prepareRun(request);
  const before = await tasksOf(pool(), request, prepared.decided);
  await requirePreflight(request, prepared);
  const versions = await freezeVersions(prepared, before);
  const lit = lightTasks(versions);
  const order = request.order ?? "first-to-last";
  const estimatedSeconds = before.shares === null ? await estimateAll(before, lit, request.nodes) : null;
  const handout =
    before.shares === null
      ? null
      : await openHandOut(before.focus.of.sequence, before.focus.of.revision.plan, versions[0]!.sceneFolder);
  return transact(async (tx) => {
    const { decided, focus, tasks, states, shares } = await decideLocked(tx, request, prepared, versions);
    const leftOut = before.decided.filter(
      ({ of }) => !versions.some((v) => v.versionId === of.sequence.versionId),
    );
    if (request.after != null) await requireAwaitable(tx, null, request.after);
    const { wanted, terms } = writeOut(states, request.phrase, order);
    const runId = await insertRun(tx, {
      sequenceId: focus.of.sequence.id,
      versions,
      policy: request.policy,
      wanted,
      nodes: request.nodes,
      order,
      priority: request.priority ?? 0,
      startAt: dateOf(request.startAt),
      stopAt: dateOf(request.stopAt),
      batch: request.batch ?? null,
      after: request.after ?? null,
      kept: framesKept([...decided, ...leftOut], (of) => leadKey(of.sequence)),
      estimatedSeconds,
      handout: handout?.folder ?? null,
      kind: "sequence",
      plan: null,
    });
    await noteDeed(tx, who, "start", { runId });
    await insertTasks(tx, runId, [...lit, ...inOrder(tasks, order, terms)], "sequence");
    if (lit.length > 0) await setLitUntil(tx, runId, lit.length);
    if (handout !== null && shares !== null)
      await recordHandOut(tx, runId, handout, focus.of, versions[0]!.sources, shares);
    return { runId, decision: focus.decision, tasks: tasks.length };
  });
}
