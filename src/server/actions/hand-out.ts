/**
 * A fixed split of a run over machines that are not connected. Each gets its frames as a phrase, a
 * ready command line, and one folder to take along: the plan file, and a copy of the scene. What
 * comes back into the version's folder is taken in by a scan (returned-frames).
 */
import type { Who } from "@/contract/who";
import { noteDeed } from "../store/deeds";
import { largest } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import { HAND_OUT_FORMAT, type HandOut } from "@/contract/hand-out";
import { type FrameSet, has, intersection } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import type { LookSources } from "@/core/plan/fingerprint";
import type { Plan } from "@/core/plan/plan";
import { overlapOf } from "@/core/run/split";
import { pool, transact, type Tx } from "../db/pool";
import { TallyError } from "../errors";
import { freezeScene, frozenName, readRenderSources } from "../scenes/scene-files";
import { closeShare, insertShares, noteContentBefore, sharesOfRun } from "../store/hand-outs";
import { appendRunEvent } from "../store/run-versions";
import type { SequenceRow } from "../store/shots";
import { closeEndedRuns } from "../queue/run-end";
import type { SequenceState } from "../views/tally";
import { gatheredLightIn } from "../files/gathered-light-files";
import {
  gatheredLightFolder,
  HAND_OUT_SCENE,
  handOutFolder,
  handOutLightFolder,
  versionPlace,
} from "../files/layout";
import { PLAN_FILE, requireHandOut, framesOf } from "../views/hand-out";
import type { FaultCall } from "@/contract/faults";
import { tasksOfRun } from "../store/tasks";
import { dropTasks } from "../store/task-state";
import type { WantedShare, Wish } from "./run-request";

export interface ReadShare {
  readonly machine: string;
  /** What its phrase means. */
  readonly set: FrameSet;
}

/** Told at the field of the shares. */
const refuse = (...call: FaultCall): TallyError => new TallyError(...call).at("shares");

/**
 * What each machine renders: frames of its phrase that need rendering. No frame goes to two machines, and
 * nobody gets nothing.
 */
export function readShares(
  wanted: readonly WantedShare[],
  wish: Pick<Wish, "scope" | "also">,
  toRender: FrameSet,
): readonly ReadShare[] {
  if (wish.scope !== "version" || (wish.also ?? []).length > 0) throw refuse("hand-out-of-one");
  const shares = wanted.map(({ machine, phrase }) => {
    const read = parsePhrase(phrase);
    if (!read.ok) throw refuse("share-phrase", { machine, message: read.error.message });
    return { machine, set: intersection(read.set, toRender) };
  });
  const twice = shares.find((s, i) => shares.findIndex((t) => t.machine === s.machine) !== i);
  if (twice !== undefined) throw refuse("machine-twice", { machine: twice.machine });
  const empty = shares.find((s) => s.set.count === 0);
  if (empty !== undefined) throw refuse("share-empty", { machine: empty.machine });
  const overlap = overlapOf(shares.map((s) => s.set));
  if (overlap.count > 0) throw refuse("shares-overlap", { frames: formatPhrase(overlap) });
  return shares;
}

export interface OpenedHandOut {
  /** Relative to the version's folder. */
  readonly folder: string;
  /** Its folder, absolute. */
  readonly place: string;
  readonly sceneFolder: string;
}

/**
 * Makes the folder to take along, with the scene in it: a copy of the one that was frozen, as the scene
 * itself may be saved meanwhile.
 * @param frozen its folder, relative to the version's
 */
export async function openHandOut(sequence: SequenceRow, plan: Plan, frozen: string): Promise<OpenedHandOut> {
  const version = versionPlace(sequence);
  const parent = path.join(version, handOutFolder());
  await fs.mkdir(parent, { recursive: true });
  const taken = await fs.readdir(parent);
  const name = String(Math.max(0, largest(taken.map(Number).filter(Number.isInteger))) + 1);
  const place = path.join(parent, name);
  // Two people at one moment: the second is told, and presses again.
  await fs.mkdir(place);
  const scene = path.join(version, frozen, frozenName(plan.renderer, plan.scene));
  await copyLight(version, place, plan.cameras);
  return {
    place,
    folder: handOutFolder(name),
    sceneFolder: await freezeScene(
      scene,
      plan.renderer,
      await readRenderSources(scene, plan.renderer),
      place,
      HAND_OUT_SCENE,
    ),
  };
}

/** Gathered light that is there goes along; whether it fits is asked where it is used. */
async function copyLight(version: string, place: string, cameras: readonly string[]): Promise<void> {
  for (const camera of cameras) {
    const from = gatheredLightFolder(version, camera);
    const names = await gatheredLightIn(from);
    if (names.length === 0) continue;
    const to = handOutLightFolder(place, camera);
    await fs.mkdir(to, { recursive: true });
    for (const name of names) await fs.copyFile(path.join(from, name), path.join(to, name));
  }
}

/** Writes the shares down, and the plan file beside the scene. */
export async function recordHandOut(
  tx: Tx,
  runId: number,
  { place, sceneFolder }: OpenedHandOut,
  { sequence, revision }: SequenceState,
  sources: LookSources,
  shares: readonly ReadShare[],
): Promise<void> {
  const written = shares.map(({ machine, set }) => ({ machine, frames: formatPhrase(set) }));
  await insertShares(tx, runId, written);
  await noteContentBefore(tx, runId);
  const plan: HandOut = {
    format: HAND_OUT_FORMAT,
    run: runId,
    project: sequence.namedProject,
    shot: sequence.namedShot,
    version: sequence.version,
    purpose: sequence.purpose,
    plan: revision.plan,
    sources,
    sceneFolder,
    shares: written,
  };
  await fs.writeFile(path.join(place, PLAN_FILE), `${JSON.stringify(plan, null, 2)}\n`);
}

/** What a machine still owes waits for it no more, and can be rendered here. */
export async function takeBackShare(
  runId: number,
  machine: string,
  who: Who = null,
): Promise<{ readonly frames: number }> {
  await requireHandOut(runId);
  const frames = await transact(async (tx) => {
    const share = (await sharesOfRun(tx, runId)).find((s) => s.machine === machine);
    if (share === undefined || !(await closeShare(tx, runId, machine)))
      throw new TallyError("share-unknown", { machine });
    const set = framesOf(share);
    const owed = (await tasksOfRun(tx, runId)).filter((t) => t.state === "waiting" && has(set, t.frame));
    await dropTasks(
      tx,
      owed.map((t) => t.id),
    );
    await noteDeed(tx, who, "take-back", { runId });
    await appendRunEvent(tx, runId);
    return owed.length;
  });
  await closeEndedRuns(pool());
  return { frames };
}
