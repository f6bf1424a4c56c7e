/** The next version with the same plan: opened by itself or by a run of its own, and taken out again while it is empty. */
import type { Who } from "@/contract/who";
import { versionName } from "@/core/plan/plan";
import { renderedHere } from "@/core/plan/rendered-here";
import { SCENES } from "../files/layout";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendEvent } from "../store/events";
import { deleteVersion, whatHoldsVersion } from "../store/forget";
import {
  ensureSequence,
  latestRevision,
  lockVersionsOfShot,
  requireSequence,
  versionById,
} from "../store/shots";
import type { RunRequest } from "./run-request";
import { openVersion, type SavedPlan } from "./save-plan";
import { type StartedRun, startRun } from "./start-run";

/** Opens the next version of the same purpose with the saved plan of the one that a sequence belongs to. */
async function openNext(sequenceId: number, who: Who): Promise<SavedPlan> {
  const sequence = await requireSequence(sequenceId);
  const [revision, version] = await Promise.all([
    latestRevision(pool(), sequence.versionId),
    versionById(pool(), sequence.versionId),
  ]);
  if (revision === null) throw new TallyError("plan-missing");
  const { plan } = revision;
  return openVersion(
    `${sequence.project}/${sequence.shot}`,
    // Frames that came from elsewhere are rendered here from the scene that is called as the shot.
    plan.watched === null ? plan : renderedHere(plan, `${SCENES}/${sequence.shot}.json`),
    sequence.purpose,
    version?.fromRevisionId ?? null,
    who,
  );
}

export interface StartedVersion extends StartedRun {
  /** v003 */
  readonly version: string;
}

/**
 * Starts a run in a version of its own: nothing that is there is touched, and all that is asked for is rendered.
 * A start that fails leaves no version behind.
 */
export async function startInNextVersion(request: RunRequest, who: Who = null): Promise<StartedVersion> {
  const asked = await requireSequence(request.sequenceId);
  const opened = await openNext(request.sequenceId, who);
  const { versionId } = opened.revision;
  try {
    const sequenceId = await transact((tx) => ensureSequence(tx, versionId, asked.camera, asked.pass));
    return { ...(await startRun({ ...request, sequenceId }, who)), version: versionName(opened.version) };
  } catch (error) {
    // Why it did not start is what somebody must hear, whatever becomes of the empty version.
    await removeVersion(versionId).catch(() => undefined);
    throw error;
  }
}

/**
 * Takes a version out again that nothing was made of.
 * @throws TallyError `version-in-use` where it has files, samples, runs or proofs, where a rough was made from
 * it, and where the shot has no other one
 */
export async function removeVersion(id: number): Promise<void> {
  const version = await versionById(pool(), id);
  if (version === null) throw new TallyError("version-unknown");
  await transact(async (tx) => {
    const all = await lockVersionsOfShot(tx, version.shotId);
    const name = versionName({ version: version.number, purpose: version.purpose });
    const holds = all.length === 1 ? "it is the only one of its shot" : await whatHoldsVersion(tx, id);
    if (holds !== null) throw new TallyError("version-in-use", { name, holds });
    await deleteVersion(tx, id);
    await appendEvent(tx, "plan");
  });
}
