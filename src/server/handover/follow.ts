/**
 * Handovers that follow runs. One is put down with the run, waits until that is over and every frame of it is good, and
 * begins once: also frames that were patched by later runs count. What keeps it back is written beside it, so that it can
 * be said in the morning.
 */
import type { Who } from "@/contract/who";
import type { Wish } from "@/core/handover/wish";
import { goesOn } from "@/core/run/run-life";
import { type Pool, pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { whyOutOfSight } from "../files/project-mark";
import { awaitedHandovers, beginHandover, type HandoverRow, holdBackHandover } from "../store/handovers";
import { projectById } from "../store/projects";
import { openRunsOfShot, runById } from "../store/runs";
import { requireSequence } from "../store/shots";
import { loadSequence } from "../views/tally";
import { createHandover, requirePossible } from "./create";
import { tellOfHandover } from "./tell";
import { framesOfPhrase, type Reel, requireWhole } from "./reel";
import { freshReelOf, handedOverOf } from "./reel-of-row";

/** @returns the number of the handover. @throws TallyError `run-unknown`, and what createHandover does */
export async function followRun(runId: number, wish: Wish, who: Who): Promise<{ readonly id: number }> {
  const run = await runById(pool(), runId);
  if (run === null) throw new TallyError("run-unknown");
  const { id } = await createHandover({
    ...(await handedOverOf(run.sequenceId)),
    wish,
    who,
    runId,
    outside: null,
  });
  return { id };
}

/** A run that can be followed: what starts one, here or in the next version. */
type Start<A, S> = (asked: A, who: Who) => Promise<S>;

/**
 * Starts a run with what follows it.
 * @throws TallyError before anything has begun where what follows cannot be; and what the start does
 */
export async function startFollowed<A extends { readonly sequenceId: number }, S extends { runId: number }>(
  start: Start<A, S>,
  asked: A,
  following: readonly Wish[],
  who: Who,
): Promise<S> {
  for (const wish of following) {
    requirePossible(wish);
    framesOfPhrase(await loadSequence(asked.sequenceId), wish.frames);
  }
  const started = await start(asked, who);
  for (const wish of following) await followRun(started.runId, wish, who);
  return started;
}

/** Why it cannot begin, as a sentence; null: it can. */
function whatHolds(reel: Reel, { wish, runId }: HandoverRow): string | null {
  try {
    requireWhole(reel, wish.gaps);
    return null;
  } catch (error) {
    if (!(error instanceof TallyError)) throw error;
    return `Run ${runId ?? ""} is over, and this waits until its frames are patched. ${error.message}`;
  }
}

/** @returns whether its run, or one that patches the same shot, goes on */
async function isAtWork(on: Pool, row: HandoverRow): Promise<boolean> {
  const run = row.runId === null ? null : await runById(on, row.runId);
  if (run !== null && goesOn(run.state)) return true;
  if (row.sequenceId === null) return false;
  const { shotId } = await requireSequence(row.sequenceId, on);
  return (await openRunsOfShot(on, shotId)).length > 0;
}

/** @returns once it has begun, or it is written why not */
async function beginOne(on: Pool, row: HandoverRow): Promise<void> {
  const project = await projectById(on, row.projectId);
  if (project === null || (await whyOutOfSight(project)) !== null) return;
  if (await isAtWork(on, row)) {
    if (row.held !== null) await holdBackHandover(on, row, null);
    return;
  }
  const held = await freshReelOf(row, row.wish).then(
    (reel) => whatHolds(reel, row),
    (error: unknown) => {
      if (error instanceof TallyError) return error.message;
      throw error;
    },
  );
  if (held === null) await transact((tx) => beginHandover(tx, row.id), on);
  else if (held !== row.held && (await holdBackHandover(on, row, held)))
    await tellOfHandover(row, { state: "awaiting", why: held });
}

/**
 * Begins those whose frames are good by now. Each once, whoever asks, and however often.
 * @throws what one of them could not be judged for, after all others were
 */
export async function beginFollowing(on: Pool): Promise<void> {
  const errors: unknown[] = [];
  for (const row of await awaitedHandovers(on))
    await beginOne(on, row).catch((error: unknown) => errors.push(error));
  if (errors.length > 0) throw errors[0];
}
