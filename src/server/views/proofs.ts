/** Proofs of a version with what they took, and what of them the saved plan could use. */
import { formatPhrase } from "@/core/frames/phrase";
import type { Fingerprints } from "@/core/plan/fingerprint";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder } from "../files/paths";
import { lostShare, timedLight } from "../store/costs";
import { proofFile, proofsOfVersion, type TimedProof } from "../store/proofs";
import { runsOfVersion, planOfRun } from "../store/runs";
import { sequenceById, requireSequence } from "../store/shots";
import { lightNeed } from "../folder/gathered-light";
import { loadVersion, type SequenceState } from "./tally";
import { costOf, HISTORY, PROOFS_READ, timedHistory } from "./timed-frames";
import { freeBytesOf } from "../files/free-space";
import { versionPlace } from "../files/layout";
import { printsOf } from "../scenes/prints";
import { runCounts } from "../store/tasks";
import type { LightView, ProofsView, ProofView } from "@/contract/proof-view";

/** The newest proofs of a version. */
const RUNS_SHOWN = 20;

/** What the saved plan's files of each sequence would be. */
export function plannedPrints(states: readonly SequenceState[]): ReadonlyMap<number, Fingerprints> {
  const prints = new Map<number, Fingerprints>();
  for (const { sequence: s, read, sources } of states)
    if (sources !== null) prints.set(s.id, printsOf(read.plan, sources, s));
  return prints;
}

/**
 * Whether a proof is the picture that the saved plan would make: then "Use these" may take it into the
 * sequence.
 */
export const fits = (
  proof: Pick<TimedProof, "look" | "effort" | "file">,
  planned: Fingerprints | undefined,
): boolean =>
  planned !== undefined &&
  proof.look === planned.look &&
  proof.effort === planned.effort &&
  proof.file === planned.file;

/** Gathered light that the saved plan's frames would read, and what such have taken. */
async function viewLight(versionId: number, states: readonly SequenceState[]): Promise<LightView> {
  const there: Record<string, string> = {};
  for (const {
    sequence,
    read: { plan, asked },
    sources,
    lighting,
  } of states) {
    if (
      lighting === null ||
      sources === null ||
      sequence.pass !== "beauty" ||
      plan.shading !== "full" ||
      !plan.cameras.includes(sequence.camera)
    )
      continue;
    there[sequence.camera] = formatPhrase(
      (await lightNeed(sequence, { plan, sources, every: lighting.every }, sequence.camera, asked)).there,
    );
  }
  return { there, timed: await timedLight(pool(), versionId, HISTORY) };
}

/**
 * Proofs of a version with their times, and the facts that the page estimates from: what was timed, what runs
 * of this version took, free room on the disk. The estimate itself is made on the page, at each key.
 * @throws TallyError `sequence-unknown`
 */
export async function viewProofs(sequenceId: number): Promise<ProofsView> {
  const sequence = await requireSequence(sequenceId);
  const db = pool();
  const states = await loadVersion(sequence);
  const prints = plannedPrints(states);
  const [runs, files, lighting, history, lost, freeBytes] = await Promise.all([
    runsOfVersion(db, sequence.versionId, "proof", RUNS_SHOWN),
    proofsOfVersion(db, sequence.versionId, PROOFS_READ),
    viewLight(sequence.versionId, states),
    timedHistory(sequence.versionId),
    lostShare(db, HISTORY),
    freeBytesOf(sequence),
  ]);
  const proofs: ProofView[] = [];
  for (const run of runs) {
    const counts = await runCounts(db, run.id);
    const own = files.filter((f) => f.runId === run.id);
    const keys = [...new Set(own.map((f) => `${f.camera}/${f.frame}`))];
    proofs.push({
      runId: run.id,
      state: run.state,
      plan: (await planOfRun(db, run.id))!,
      wanted: run.wanted,
      left: counts.waiting + counts.leased,
      failed: counts.failed,
      createdAt: run.createdAt.getTime(),
      frames: keys.map((key) => {
        const passes = own.filter((f) => `${f.camera}/${f.frame}` === key);
        const lead = passes.find((f) => f.pass === "beauty") ?? passes[0]!;
        return {
          camera: lead.camera,
          cost: costOf(lead),
          stoppedBy: lead.stoppedBy,
          passes: passes.map((f) => ({
            pass: f.pass,
            sequenceId: f.sequenceId,
            content: f.content.slice(0, 16),
            bytes: f.bytes,
            noise: f.noise,
            luminance: f.luminance,
            fits: fits(f, prints.get(f.sequenceId)),
          })),
        };
      }),
    });
  }
  return { proofs, history, lostShare: lost, lighting, freeBytes };
}

/** Where the picture of a proof lies. */
export async function placeOfProof(
  runId: number,
  sequenceId: number,
  frame: number,
): Promise<{ readonly file: string; readonly pass: string }> {
  const [proof, sequence] = [
    await proofFile(pool(), runId, sequenceId, frame),
    await sequenceById(pool(), sequenceId),
  ];
  if (proof === null || sequence === null) throw new TallyError("proof-none", { frame });
  return {
    file: await insideFolder(versionPlace(sequence), proof.path),
    pass: sequence.pass,
  };
}
