/**
 * Proofs: frames rendered by real nodes through the path of the run (engine, denoise, passes,
 * writer), into a folder of their own. They never touch the sequence, until somebody says "use these".
 */
import type { Who } from "@/contract/who";
import { noteDeed } from "../store/deeds";
import fs from "node:fs";
import path from "node:path";
import type { StartProofsBody } from "@/contract/bodies";
import { has, members, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { type Plan, readPlan, sequencesOf, frameName } from "@/core/plan/plan";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { pool, transact } from "../db/pool";
import { TallyError, phraseError } from "../errors";
import { imageTools } from "../files/image-tools";
import { checkFile } from "@/core/image/check-file";
import { insideFolder } from "../files/paths";
import { putInFreePlace } from "../files/put-in-place";
import { appendFrameEvent } from "../store/events";
import { lockFile, saveFile } from "../store/frame-files";
import { proofsOfRun, type TimedProof } from "../store/proofs";
import { insertRun, runById } from "../store/runs";
import {
  ensureSequence,
  sequenceById,
  sequencesOfVersion,
  type SequenceRow,
  requireSequence,
} from "../store/shots";
import { checkPlan } from "./save-plan";
import { loadSequence, loadVersion, type SequenceState } from "../views/tally";
import { versionPlace, sequencePlace, temporaryOf } from "../files/layout";
import { plannedPrints, fits } from "../views/proofs";
import { insertTasks, liveTasks } from "../store/tasks";
import { freezeForRun } from "./freeze";
import { phraseNames } from "@/core/tally/names";
import { readSceneNow } from "../scenes/scene-now";
import { readRegular } from "../files/read-regular";

/** More proofs than this are a run. */
const MOST_PROOF_FRAMES = 100;
/** The plans of a request: one, or one for each number of samples of a test strip. */
function plansOf({ plan, strip }: StartProofsBody): Plan[] {
  if (strip === null) return [plan];
  return strip.map((samples) => ({
    ...plan,
    samples,
    minSamples: Math.min(plan.minSamples, samples),
    noiseTarget: null,
    timeLimit: null,
    passes: ["beauty", "denoised"],
  }));
}

/**
 * Renders single frames with a plan that need not be saved, through the path that runs take. Each choice of a
 * test strip is a run of its own, so that one can be stopped and timed without the others.
 * @returns ids of the runs, in the order of the choices, and the frames as a phrase
 * @throws TallyError `plan-wrong`, with all faults of the plan
 */
export async function startProofs(
  sequenceId: number,
  body: StartProofsBody,
  who: Who = null,
): Promise<{ readonly runs: readonly number[]; readonly frames: string }> {
  const state = await loadSequence(sequenceId);
  const { sequence, revision } = state;
  await checkPlan(sequence, body.plan);
  const read = readPlan(body.plan);
  if (!read.ok) throw new TallyError("plan-wrong", { message: read.faults[0]!.message }).with(read.faults);
  // Names mean frames of the plan that is being proved, not of the tally.
  const tally = deriveTally({ ...NO_FACTS, asked: read.value.asked });
  const wanted = parsePhrase(body.phrase, phraseNames({ ...state, tally }));
  if (!wanted.ok) throw phraseError(wanted.error);
  if (wanted.set.count === 0) throw new TallyError("nothing-to-prove").at("phrase");
  const most = MOST_PROOF_FRAMES;
  if (wanted.set.count > most)
    throw new TallyError("too-many-proofs", { frames: wanted.set.count, most }).at(
      "phrase",
      `At most ${most} frames.`,
    );
  const frames = [...members(wanted.set)];
  const cameras = body.strip === null ? body.plan.cameras : [sequence.camera];
  const { lighting: _lighting, ...frozen } = await freezeForRun(
    sequence,
    body.plan,
    await readSceneNow(sequence, body.plan),
  );
  const runs = await transact(async (tx) => {
    const ids: number[] = [];
    for (const plan of plansOf(body)) {
      const leads = new Map<string, number>();
      for (const { camera, pass } of sequencesOf(plan)) {
        const id = await ensureSequence(tx, sequence.versionId, camera, pass);
        if (pass === "beauty") leads.set(camera, id);
      }
      const id = await insertRun(tx, {
        sequenceId,
        versions: [{ versionId: sequence.versionId, revisionId: revision.id, ...frozen }],
        policy: "all",
        wanted: formatPhrase(wanted.set),
        nodes: body.nodes,
        order: "as-written",
        priority: 0,
        startAt: null,
        after: null,
        stopAt: null,
        batch: null,
        kept: 0,
        estimatedSeconds: null,
        handout: null,
        kind: "proof",
        plan,
      });
      await insertTasks(
        tx,
        id,
        cameras.flatMap((camera) =>
          frames.map((frame) => ({
            kind: "frame" as const,
            leadId: leads.get(camera)!,
            frame,
            passes: plan.passes,
          })),
        ),
        "proof",
      );
      await noteDeed(tx, who, "start", { runId: id });
      ids.push(id);
    }
    return ids;
  });
  return { runs, frames: formatPhrase(wanted.set) };
}

/**
 * Puts the files of a proof into their sequences, where they are just what the saved plan would make and
 * nothing good is there. Nothing is rendered.
 * @returns the frames that were placed in the sequence in whose sight it was asked
 */
export async function placeProofs(
  sequenceId: number,
  runId: number,
): Promise<{ readonly placed: string; readonly files: number }> {
  const sequence = await requireSequence(sequenceId);
  const run = await runById(pool(), runId);
  const proofSequence = run === null ? null : await sequenceById(pool(), run.sequenceId);
  if (run === null || run.kind !== "proof" || proofSequence?.versionId !== sequence.versionId)
    throw new TallyError("proof-unknown");
  const states = await loadVersion(sequence);
  const prints = plannedPrints(states);
  const rows = new Map((await sequencesOfVersion(pool(), sequence.versionId)).map((s) => [s.id, s]));
  const version = versionPlace(sequence);
  const placed = new Set<number>();
  let files = 0;
  for (const proof of await proofsOfRun(pool(), runId)) {
    const own = rows.get(proof.sequenceId);
    const state = states.find((s) => s.sequence.id === proof.sequenceId);
    if (own === undefined || state === undefined || !fits(proof, prints.get(proof.sequenceId))) continue;
    if (!has(state.read.asked, proof.frame) || state.files.some((f) => f.frame === proof.frame)) continue;
    if (await placeProof(own, state, proof, version)) {
      files++;
      placed.add(proof.frame);
    }
  }
  if (files === 0) throw new TallyError("proofs-do-not-fit");
  return { placed: formatPhrase(setOf(placed)), files };
}

/** False where somebody else has put a file there meanwhile. */
async function placeProof(
  sequence: SequenceRow,
  state: SequenceState,
  proof: TimedProof,
  version: string,
): Promise<boolean> {
  const from = await insideFolder(version, proof.path);
  const bytes = await readRegular(from).catch(() => null);
  if (bytes === null) return false;
  const folder = sequencePlace(sequence);
  await fs.promises.mkdir(folder, { recursive: true });
  const final = path.join(folder, frameName(state.read, sequence, proof.frame));
  const verdict = checkFile(final, bytes, imageTools);
  if (verdict.verdict !== "good") return false;
  const temporary = temporaryOf(final, proof.attemptId);
  await fs.promises.writeFile(temporary, bytes, { flush: true });
  let isPlaced = false;
  const placing = transact(async (tx) => {
    // A node that renders this frame now will place its own.
    const lead = (await sequencesOfVersion(tx, sequence.versionId)).find(
      (s) => s.camera === sequence.camera && s.pass === "beauty",
    );
    if (
      (await liveTasks(tx, sequence.versionId)).some(
        (t) => t.leadId === lead?.id && t.frame === proof.frame && t.state === "leased",
      )
    )
      return false;
    if ((await lockFile(tx, sequence.id, proof.frame)) !== null) return false;
    // A transaction that is run again finds its own file in the place.
    isPlaced ||= putInFreePlace(temporary, final);
    if (!isPlaced) return false;
    const stat = fs.statSync(final);
    await saveFile(tx, sequence.id, proof.frame, {
      name: path.basename(final),
      bytes: stat.size,
      modifiedMs: stat.mtimeMs,
      content: proof.content,
      verdict,
      look: proof.look,
      effort: proof.effort,
      samples: proof.samples,
      attemptId: proof.attemptId,
      node: proof.node,
      seconds: proof.startupSeconds + proof.renderSeconds + proof.denoiseSeconds + proof.writeSeconds,
      luminance: proof.luminance,
      noise: proof.noise,
    });
    await appendFrameEvent(tx, "files", { sequenceId: sequence.id, runId: null }, proof.frame);
    return true;
  });
  return placing.finally(() => fs.promises.rm(temporary, { force: true }));
}
