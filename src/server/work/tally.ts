/** Facts of a sequence from the database, and the tally derived from them. The counts shown anywhere come through here. */
import { EMPTY, type FrameSet, setOf } from "@/core/frames/frame-set";
import { type NameResolver } from "@/core/frames/phrase";
import { fingerprintsOf } from "@/core/plan/fingerprint";
import { type ReadPlan, readPlan } from "@/core/plan/plan";
import { markerSets, phraseNames } from "@/core/tally/names";
import { deriveTally, type Tally } from "@/core/tally/tally";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { readSceneOnDisk } from "../files/scene-files";
import { type FindingRow, openFindings } from "../store/findings";
import { type FileRow, listFiles } from "../store/frame-files";
import { failedFrames, liveTasks } from "../store/runs";
import { latestRevision, type Marker, type RevisionRow, sequenceById, type SequenceRow } from "../store/shots";
import { framesBeingChecked } from "./check-jobs";

export interface SequenceState {
  readonly sequence: SequenceRow;
  readonly revision: RevisionRow;
  readonly read: ReadPlan;
  readonly tally: Tally;
  readonly files: readonly FileRow[];
  readonly findings: readonly FindingRow[];
}

export async function requireSequence(id: number): Promise<SequenceRow> {
  const sequence = await sequenceById(pool(), id);
  if (sequence === null) throw new TallyError("sequence-unknown", "This sequence does not exist (any more).");
  return sequence;
}

/** A revision that was saved was read before; one that cannot be read now is a fault of the program. */
export function readSavedPlan(revision: RevisionRow): ReadPlan {
  const read = readPlan(revision.plan);
  if (!read.ok) throw new TallyError("plan-unreadable", `Revision ${revision.number} of the plan cannot be read: ${read.faults[0]?.message}`);
  return read.value;
}

/** The look that the saved plan and the scene on disk ask for now; null when the scene cannot be read, and then nothing is called stale. */
async function wantedLook(sequence: SequenceRow, revision: RevisionRow): Promise<string | null> {
  try {
    const scene = await insideFolder(projectFolder(sequence), revision.plan.scene);
    return fingerprintsOf(revision.plan, (await readSceneOnDisk(scene, sequence.pass)).sources).look;
  } catch (error) {
    if (error instanceof TallyError) return null;
    throw error;
  }
}

const framesWhere = (files: readonly FileRow[], matches: (file: FileRow) => boolean): FrameSet => setOf(files.filter(matches).map((f) => f.frame));

export async function loadSequence(id: number): Promise<SequenceState> {
  const db = pool();
  const sequence = await requireSequence(id);
  const revision = await latestRevision(db, sequence.versionId);
  if (revision === null) throw new TallyError("plan-missing", "This version has no plan yet.");
  const read = readSavedPlan(revision);
  const [files, findings, live, failed, look] = await Promise.all([listFiles(db, id), openFindings(db, id), liveTasks(db, id), failedFrames(db, id), wantedLook(sequence, revision)]);
  // A version may plan another camera by now; its old sequence is then asked for nothing.
  const asked = read.plan.camera === sequence.camera ? read.asked : EMPTY;
  const tally = deriveTally({
    asked,
    files: framesWhere(files, () => true),
    unlooked: framesWhere(files, (f) => f.verdict === null),
    rejected: framesWhere(files, (f) => f.verdict === "damaged"),
    findingOpen: setOf(findings.map((f) => f.frame)),
    otherLook: look === null ? EMPTY : framesWhere(files, (f) => f.look !== null && f.look !== look),
    checkpointed: EMPTY,
    lastAttemptFailed: setOf(failed.map((f) => f.frame)),
    waiting: setOf(live.filter((t) => t.state === "waiting").map((t) => t.frame)),
    rendering: setOf(live.filter((t) => t.state === "leased").map((t) => t.frame)),
    checking: framesBeingChecked(id),
  });
  return { sequence, revision, read, tally, files, findings };
}

/** Frames whose file each node made, for every node that made any. */
export function framesByNode(files: readonly FileRow[]): Record<string, FrameSet> {
  const lists = new Map<string, number[]>();
  for (const file of files) {
    if (file.node === null) continue;
    const list = lists.get(file.node);
    if (list === undefined) lists.set(file.node, [file.frame]);
    else list.push(file.frame);
  }
  return Object.fromEntries([...lists].map(([node, frames]) => [node, setOf(frames)]));
}

export const namesOf = (state: SequenceState, markers: readonly Marker[]): NameResolver =>
  phraseNames({ tally: state.tally, markers: markerSets(markers), nodes: framesByNode(state.files) });
