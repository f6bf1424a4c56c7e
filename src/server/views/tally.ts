/**
 * Facts of a sequence from the database, and the tally derived from them. The counts shown anywhere come
 * through here.
 */
import type { SceneLighting } from "@/contract/scene";
import { EMPTY, type FrameSet, setOf, members, intersection, union } from "@/core/frames/frame-set";
import type { LookSources } from "@/core/plan/fingerprint";
import { groupBy } from "@/core/many";
import { passBits } from "@/core/plan/passes";
import { MAX_PLAN_FRAMES, plansSequence, type ReadPlan, sequencesOf } from "@/core/plan/plan";
import { type Extent, followedFrames } from "@/core/plan/watched";
import { parsePhrase } from "@/core/frames/phrase";
import { markerSets, phraseNames } from "@/core/tally/names";
import { deriveTally } from "@/core/tally/tally";
import { pool } from "../db/pool";
import { phraseError, TallyError } from "../errors";
import { type CheckpointRow, listCheckpoints, checkpointsOfFrames } from "../store/checkpoints";
import { type FindingRow, openFindings, openFindingsOfFrames } from "../store/findings";
import { extentsOfFiles, type FileRow, listFiles, filesOfFrames } from "../store/frame-files";
import {
  latestRevision,
  type RevisionRow,
  type SequenceRow,
  sequencesOfVersion,
  readSavedPlan,
  requireSequence,
  shotById,
} from "../store/shots";
import { type Claim, partClaims } from "../folder/claims";
import { framesBeingChecked } from "../folder/check-jobs";
import { printsOf } from "../scenes/prints";
import { liveTasks, type LiveTask, liveTasksOfFrames } from "../store/tasks";
import { failedFrames, failedOfFrames } from "../store/attempts";
import { markHeldAgainst } from "./shown-sources";
import type { Decidable } from "@/core/run/decide";
import type { Db } from "../db/rows";
import { type SceneNow, readSceneNow } from "../scenes/scene-now";

export interface SequenceState extends Decidable {
  readonly sequence: SequenceRow;
  /** Every sequence of its version, planned or not. */
  readonly ofVersion: readonly SequenceRow[];
  readonly revision: RevisionRow;
  readonly read: ReadPlan;
  /** Pictures alone. */
  readonly files: readonly FileRow[];
  /** Frames that something else has put an empty file down for. */
  readonly claims: readonly Claim[];
  readonly findings: readonly FindingRow[];
  /** Saved samples of its camera's frames. */
  readonly saved: readonly CheckpointRow[];
  /** What its pictures depend on now; null while the scene cannot be read. */
  readonly sources: LookSources | null;
  /** The gathered light that the scene asks for now; null for none. */
  readonly lighting: SceneLighting | null;
}

/**
 * How a tally is read: from which connection, with a scene that the caller has read already, and of which
 * frames alone.
 */
export interface Reading {
  readonly db?: Db;
  readonly scene?: SceneNow | TallyError;
  /**
   * Nothing is read of any other frame. The table of states goes frame by frame, so the states of these are
   * the same.
   */
  readonly only?: FrameSet;
}

const framesWhere = (files: readonly FileRow[], matches: (file: FileRow) => boolean): FrameSet =>
  setOf(files.filter(matches).map((f) => f.frame));

/** What the sequences of a version share. */
interface VersionFacts {
  readonly db: Db;
  /** Frames that are read alone; null for all. */
  readonly only: readonly number[] | null;
  /** Of the version, planned or not. */
  readonly sequences: readonly SequenceRow[];
  readonly markers: Readonly<Record<string, FrameSet>>;
  readonly revision: RevisionRow;
  readonly read: ReadPlan;
  /** First and last frame of the files of each sequence, where the plan follows them; null: it says what it asks for. */
  readonly extents: ReadonlyMap<number, Extent> | null;
  readonly sources: LookSources | null;
  readonly lighting: SceneLighting | null;
  readonly live: readonly LiveTask[];
  /** Beauty sequence of each camera. */
  readonly leads: ReadonlyMap<string, number>;
  /** Saved samples, by beauty sequence. */
  readonly saved: ReadonlyMap<number, readonly CheckpointRow[]>;
}

async function loadFacts(
  sequence: SequenceRow,
  { db = pool(), scene, only: set }: Reading,
): Promise<VersionFacts> {
  const only = set === undefined ? null : [...members(set)];
  const revision = await latestRevision(db, sequence.versionId);
  if (revision === null) throw new TallyError("plan-missing");
  const [seen, sequences, shot] = await Promise.all([
    scene ?? readSceneNow(sequence, revision.plan),
    sequencesOfVersion(db, sequence.versionId),
    shotById(db, sequence.shotId),
  ]);
  const leads = new Map(sequences.filter((s) => s.pass === "beauty").map((s) => [s.camera, s.id]));
  const [live, ...saved] = await Promise.all([
    only === null ? liveTasks(db, sequence.versionId) : liveTasksOfFrames(db, [...leads.values()], only),
    ...[...leads.values()].map(
      async (lead) =>
        [
          lead,
          await (only === null ? listCheckpoints(db, lead) : checkpointsOfFrames(db, lead, only)),
        ] as const,
    ),
  ]);
  const read = readSavedPlan(revision);
  const follows = read.plan.watched?.followsFiles === true;
  const extents = follows ? await extentsOfFiles(db, sequence.versionId) : null;
  markHeldAgainst(sequence.versionId, sequence, revision.plan, seen);
  // A scene that cannot be read puts nothing out of date.
  const known = seen instanceof TallyError ? null : seen;
  return {
    db,
    revision,
    read,
    extents,
    sources: known?.sources ?? null,
    lighting: known?.lighting ?? null,
    live,
    leads,
    saved: new Map(saved),
    only,
    sequences,
    markers: markerSets(shot?.markers ?? [], read.plan),
  };
}

async function deriveState(sequence: SequenceRow, facts: VersionFacts): Promise<SequenceState> {
  const { db, only, revision, extents, sources, lighting, live, leads, markers } = facts;
  const read: ReadPlan =
    extents === null
      ? facts.read
      : {
          ...facts.read,
          asked: followedFrames(
            facts.read.asked,
            extents.get(sequence.id) ?? null,
            extents.values(),
            MAX_PLAN_FRAMES,
          ),
        };
  const lead = leads.get(sequence.camera) ?? sequence.id;
  const [found, findings, failed] = await Promise.all([
    only === null ? listFiles(db, sequence.id) : filesOfFrames(db, sequence.id, only),
    only === null ? openFindings(db, sequence.id) : openFindingsOfFrames(db, sequence.id, only),
    only === null ? failedFrames(db, lead, sequence.pass) : failedOfFrames(db, lead, sequence.pass, only),
  ]);
  const { pictures: files, claims } = partClaims(sequence, found);
  const asked = only === null ? read.asked : intersection(read.asked, setOf(only));
  const checking = framesBeingChecked(sequence.id);
  const saved = facts.saved.get(lead) ?? [];
  const prints = sources === null ? null : printsOf(read.plan, sources, sequence);
  // A version may plan another camera or pass by now; its old sequence is then asked for nothing.
  const isPlanned = plansSequence(read.plan, sequence);
  const bit = passBits([sequence.pass]);
  const busy = (state: LiveTask["state"]): FrameSet =>
    setOf(
      live
        .filter((t) => t.leadId === lead && (t.passes & bit) !== 0 && t.state === state)
        .map((t) => t.frame),
    );
  const tally = deriveTally({
    asked: isPlanned ? asked : EMPTY,
    files: framesWhere(files, () => true),
    unlooked: framesWhere(files, (f) => f.verdict === null),
    rejected: framesWhere(files, (f) => f.verdict === "damaged"),
    findingOpen: setOf(findings.map((f) => f.frame)),
    otherLook: prints === null ? EMPTY : framesWhere(files, (f) => f.look !== null && f.look !== prints.look),
    lowEffort:
      prints === null
        ? EMPTY
        : framesWhere(
            files,
            (f) =>
              f.samples !== null &&
              f.samples < read.plan.samples &&
              f.effort !== null &&
              f.effort !== prints.effort,
          ),
    checkpointed: setOf(saved.map((c) => c.frame)),
    lastAttemptFailed: setOf(failed.map((f) => f.frame)),
    waiting: busy("waiting"),
    rendering: union(busy("leased"), setOf(claims.filter((c) => !c.isOver).map((c) => c.frame))),
    checking: only === null ? checking : intersection(checking, setOf(only)),
  });
  return {
    sequence,
    ofVersion: facts.sequences,
    revision,
    read,
    tally,
    markers,
    nodes: framesByNode(files),
    files,
    claims,
    findings,
    saved,
    sources,
    lighting,
  };
}

/**
 * The state of a sequence as of now: facts, tally, and the plan that it is held against.
 * @param reading the connection to read by, and what need not be read
 * @throws TallyError `sequence-unknown`
 */
export async function loadSequence(id: number, reading: Reading = {}): Promise<SequenceState> {
  // By the caller's connection: one that holds a lock must not wait for a second one.
  return stateOf(await requireSequence(id, reading.db), reading);
}

/** The same, of a sequence that was read already. */
export const stateOf = async (sequence: SequenceRow, reading: Reading = {}): Promise<SequenceState> =>
  deriveState(sequence, await loadFacts(sequence, reading));

/** Every sequence of the version that its plan asks for, in the plan's order: cameras, then passes.
 * @param sequence any of the version
 */
export async function loadVersion(
  sequence: SequenceRow,
  reading: Reading = {},
): Promise<readonly SequenceState[]> {
  const facts = await loadFacts(sequence, reading);
  const planned = sequencesOf(facts.read.plan).flatMap(({ camera, pass }) =>
    facts.sequences.filter((r) => r.camera === camera && r.pass === pass),
  );
  return Promise.all(planned.map((row) => deriveState(row, facts)));
}

/** Frames whose file each node made, for every node that made any. */
function framesByNode(files: readonly FileRow[]): Record<string, FrameSet> {
  return Object.fromEntries(
    [...groupBy(files, ({ node }) => node)].flatMap(([node, own]) =>
      node === null ? [] : [[node, setOf(own.map(({ frame }) => frame))] as const],
    ),
  );
}

/** Frames that a phrase means where the names of a sequence may be used. @throws TallyError `phrase-wrong` */
export function framesMeant(state: SequenceState, phrase: string): FrameSet {
  const read = parsePhrase(phrase, phraseNames(state));
  if (!read.ok) throw phraseError(read.error);
  return read.set;
}
