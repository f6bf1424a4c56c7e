/**
 * Changes a run while it goes: its order, priority, nodes, times, policy, and the frames themselves.
 *
 * Frames in work are finished whatever is changed; frames that are done stay done. What is taken out
 * waits no longer, and can be taken in again.
 */
import { addAll, largest } from "@/core/many";
import type { ChangeRunBody } from "@/contract/bodies";
import type { Who } from "@/contract/who";
import { passesMadeStale } from "@/core/plan/fingerprint";
import { passBits } from "@/core/plan/passes";
import { changedFields, type Plan } from "@/core/plan/plan";
import { framesToRender } from "@/core/run/what-to-render";
import { difference, type FrameSet, setOf } from "@/core/frames/frame-set";
import { phraseTerms } from "@/core/frames/phrase";
import { pool, transact, type Tx } from "../db/pool";
import { TallyError, phraseError } from "../errors";
import { noteDeed } from "../store/deeds";
import { lockRun, type RunRow, runById, saveRunSettings, setLitUntil } from "../store/runs";
import { appendRunEvent, type CoveredVersion, saveRunRevision, versionsOfRun } from "../store/run-versions";
import { latestRevision, revisionById, versionById, requireSequence, leadsOf } from "../store/shots";
import { loadVersion, type SequenceState } from "../views/tally";
import { insertTasks, placeTasks, type TaskRow, tasksOfRun } from "../store/tasks";
import { dropTasks, takeInTasks } from "../store/task-state";
import { moveRun } from "../store/run-state";
import { decideSequences, writeOut } from "@/core/run/decide";
import { frameTasks, inOrder, leadKey } from "@/core/run/run-tasks";
import { lockQueue } from "../store/run-queue";
import { requireAwaitable } from "./order-runs";
import { oneOfEachVersion } from "./prepare-run";
import { dateOf } from "../db/rows";

export interface ChangedRun {
  /** Frames that were put in. */
  readonly added: number;
  /** Frames that wait no longer. */
  readonly droppedOut: number;
}

/**
 * Fields of a plan that a run may take over from a newer revision: nothing that decides a pixel or a file.
 */
const HARMLESS: readonly (keyof Plan)[] = ["frames", "markersOff", "passes", "cameras"];

/** The revision that the changed run follows for a version: the newest, if it asks for other frames only. */
async function revisionFor({ versionId, revisionId }: CoveredVersion): Promise<number> {
  const [own, newest] = [await revisionById(pool(), revisionId), await latestRevision(pool(), versionId)];
  if (own === null || newest === null || own.id === newest.id) return revisionId;
  const other: string[] = changedFields(own.plan, newest.plan).filter((field) => !HARMLESS.includes(field));
  // A camera move of the plan's own stretches over its frames: other frames are another move.
  if (other.length === 0 && passesMadeStale(own.plan, newest.plan).length > 0)
    other.push("the stretch of its camera move");
  if (other.length > 0)
    throw new TallyError("run-other-plan", { fields: other }).at(
      "phrase",
      "The plan has changed since this run began.",
    );
  return newest.id;
}

/** One frame of one camera. */
const keyOf = (leadId: number, frame: number): string => `${leadId}:${frame}`;

/** Takes frames in and out so that the run waits for what the phrase and the policy ask for. */
async function changeFrames(
  tx: Tx,
  run: RunRow,
  states: readonly SequenceState[],
  phrase: string,
  policy: RunRow["policy"],
): Promise<{ readonly added: number; readonly droppedOut: number; readonly wanted: string }> {
  const focus = states.find((s) => s.sequence.id === run.sequenceId) ?? states[0]!;
  const each = oneOfEachVersion([focus, ...states]);
  const read = decideSequences(each, phrase, policy);
  if (!read.ok) throw phraseError(read.error);
  const { set, wanted } = writeOut(each, phrase, run.order);
  const tasks = (await tasksOfRun(tx, run.id)).filter((t) => t.kind === "frame");
  const inTasks = new Set(tasks.map((t) => t.leadId));
  const leads = await leadsOf(
    tx,
    each.map((s) => s.sequence.versionId),
  );
  // A run for one sequence stays one: only cameras and passes that it has already.
  const passes = tasks.reduce((bits, t) => bits | t.passes, 0);
  const inRun = states.filter(
    (s) => inTasks.has(leads.get(leadKey(s.sequence))!) && (passBits([s.sequence.pass]) & passes) !== 0,
  );
  // What waits in this very run is decided anew.
  const decided = inRun.map((state) => ({
    ...state.sequence,
    toRender: framesToRender(
      {
        ...state.tally,
        activities: { ...state.tally.activities, waiting: ownWaitingTaken(state, tasks, leads) },
      },
      set,
      policy,
    ).toRender,
  }));
  const decidedTasks = frameTasks(decided, leads);
  const asked = new Map(decidedTasks.map((t) => [keyOf(t.leadId, t.frame), t]));
  const known = new Set(tasks.map((t) => keyOf(t.leadId, t.frame)));
  const out = tasks.filter((t) => t.state === "waiting" && !asked.has(keyOf(t.leadId, t.frame)));
  const back = tasks.filter((t) => t.state === "dropped" && asked.has(keyOf(t.leadId, t.frame)));
  const fresh = decidedTasks.filter((t) => !known.has(keyOf(t.leadId, t.frame)));
  await dropTasks(
    tx,
    out.map((t) => t.id),
  );
  await takeInTasks(
    tx,
    back.map((t) => ({ id: t.id, passes: passBits(asked.get(keyOf(t.leadId, t.frame))!.passes) })),
  );
  await insertTasks(tx, run.id, fresh, "sequence", Math.max(-1, largest(tasks.map((t) => t.position))) + 1);
  return { added: fresh.length + back.length, droppedOut: out.length, wanted };
}

/** What waits elsewhere: this run's own waiting frames are free to be decided on. */
function ownWaitingTaken(
  state: SequenceState,
  tasks: readonly TaskRow[],
  leads: ReadonlyMap<string, number>,
): FrameSet {
  const lead = leads.get(leadKey(state.sequence));
  const own = setOf(tasks.filter((t) => t.leadId === lead && t.state === "waiting").map((t) => t.frame));
  return difference(state.tally.activities.waiting, own);
}

/** Versions of a run that are not retired. */
async function openVersions(runId: number): Promise<CoveredVersion[]> {
  const covered = await versionsOfRun(pool(), runId);
  const rows = await Promise.all(covered.map((c) => versionById(pool(), c.versionId)));
  const open = covered.filter((_, i) => rows[i]?.status !== "retired");
  if (open.length === 0) throw new TallyError("versions-retired");
  return open;
}

/** Applies what the body names; what it leaves out stays. */
export async function changeRun(id: number, body: ChangeRunBody, who: Who = null): Promise<ChangedRun> {
  const before = await runById(pool(), id);
  if (before === null || before.kind !== "sequence") throw new TallyError("run-unknown");
  if (before.handout !== null) throw new TallyError("run-handed-out");
  const changesFrames = body.phrase !== undefined || body.policy !== undefined;
  // What is retired gets no more frames.
  const covered = changesFrames ? await openVersions(id) : [];
  const revisions = new Map<number, number>();
  const states: SequenceState[] = [];
  for (const version of covered) {
    revisions.set(version.versionId, await revisionFor(version));
    addAll(states, await loadVersion(await requireSequence(version.sequenceId)));
  }
  return transact(async (tx) => {
    // Two that are made to wait for one another at the same moment are looked at one after the other.
    if (body.after != null) await lockQueue(tx);
    const run = await lockRun(tx, id);
    if (run === null) throw new TallyError("run-unknown");
    if (body.after != null) await requireAwaitable(tx, id, body.after);
    const next = {
      policy: body.policy ?? run.policy,
      nodes: body.nodes === undefined ? run.nodes : body.nodes,
      order: body.order ?? run.order,
      priority: body.priority ?? run.priority,
      batch: body.batch === undefined ? run.batch : body.batch,
      startAt: body.startAt === undefined ? run.startAt : dateOf(body.startAt),
      after: body.after === undefined ? run.after : body.after,
      stopAt: body.stopAt === undefined ? run.stopAt : dateOf(body.stopAt),
    };
    const changed = changesFrames
      ? await changeFrames(tx, { ...run, order: next.order }, states, body.phrase ?? run.wanted, next.policy)
      : { added: 0, droppedOut: 0, wanted: run.wanted };
    await saveRunSettings(tx, id, { ...next, wanted: changed.wanted });
    for (const [versionId, revisionId] of revisions) await saveRunRevision(tx, id, versionId, revisionId);
    if (changed.added > 0 || body.order !== undefined) {
      const tasks = await tasksOfRun(tx, id);
      // Behind all places so far: nodes remember for a moment where they found the last frame, and look from
      // there on.
      const from = largest(tasks.map((t) => t.position)) + 1;
      const waiting = tasks.filter((t) => t.state === "waiting");
      // The gathered light stays the first part; frames that need more of it make that themselves.
      const lit = waiting.filter((t) => t.kind === "light");
      await placeTasks(
        tx,
        [
          ...lit,
          ...inOrder(
            waiting.filter((t) => t.kind === "frame"),
            next.order,
            phraseTerms(changed.wanted),
          ),
        ].map((t, i) => [t.id, from + i] as const),
      );
      if (tasks.some((t) => t.kind === "light" && (t.state === "waiting" || t.state === "leased")))
        await setLitUntil(tx, id, from + lit.length);
    }
    // New frames for a run that was done: it goes on.
    if (changed.added > 0 && run.state === "done") await moveRun(tx, id, "go-on");
    await noteDeed(tx, who, "change", { runId: id });
    await appendRunEvent(tx, id);
    return { added: changed.added, droppedOut: changed.droppedOut };
  });
}
