/**
 * What a start is decided on. The facts are read once, outside of any lock: folders are caught up
 * with, each version's scene is read and hashed, and the decision is made (core/run/decide). The page
 * shows it, the preflight judges it, and the start makes it again on what it reads under the lock.
 */
import { addAll } from "@/core/many";
import { readVersionName, versionName } from "@/core/plan/plan";
import { type Decided, decideSequences } from "@/core/run/decide";
import { pool } from "../db/pool";
import type { Db } from "../db/rows";
import { phraseError, TallyError } from "../errors";
import { catchUp } from "../folder/check";
import { readSceneNow, type SceneNow } from "../scenes/scene-now";
import {
  latestRevision,
  listVersions,
  requireSequence,
  type SequenceRow,
  sequencesOfVersion,
  type VersionRow,
  shotById,
} from "../store/shots";
import { loadSequence, loadVersion, type SequenceState } from "../views/tally";
import type { Marker } from "@/core/plan/notes";
import { asFresh } from "@/core/tally/tally";
import type { RunScope, Wish } from "./run-request";

/** A version that a wish covers, with the scene of its saved plan. */
export interface CoveredScene {
  readonly versionId: number;
  readonly revisionId: number;
  /** Or why it cannot be read. */
  readonly scene: SceneNow | TallyError;
  /** Sequences of its scope. */
  readonly sequences: readonly SequenceRow[];
}

export type DecidedSequence = Decided<SequenceState>;

export interface PreparedRun {
  /** The sequence in whose sight it was asked. */
  readonly focus: SequenceRow;
  /** Of its shot. */
  readonly markers: readonly Marker[];
  /** Versions that the run would cover. */
  readonly covered: readonly CoveredScene[];
  readonly decided: readonly DecidedSequence[];
}

/** The first state of each version. */
export const oneOfEachVersion = (states: readonly SequenceState[]): SequenceState[] =>
  states.filter((s, i) => states.findIndex((t) => t.sequence.versionId === s.sequence.versionId) === i);

/** Versions that a wish covers, that of its sequence first. A retired one is rendered no more. */
async function versionsOf(focus: SequenceRow, also: readonly string[]): Promise<VersionRow[]> {
  const all = await listVersions(pool(), focus.shotId);
  const versions = [all.find((v) => v.id === focus.versionId)!];
  for (const name of also) {
    const key = readVersionName(name);
    const found = all.find((v) => v.number === key?.version && v.purpose === key.purpose);
    if (found === undefined)
      throw new TallyError("version-not-of-shot", { shot: focus.shot, name }).at(
        "also",
        `There is no version ${name}.`,
      );
    if (!versions.includes(found)) versions.push(found);
  }
  const retired = versions.find((v) => v.status === "retired");
  if (retired !== undefined) throw retiredError(retired, all);
  return versions;
}

/** Names the one that was chosen instead, where there is one. */
function retiredError(retired: VersionRow, all: readonly VersionRow[]): TallyError {
  const name = (v: VersionRow): string => versionName({ version: v.number, purpose: v.purpose });
  const chosen = all.find((v) => v.status === "chosen");
  return new TallyError("version-retired", {
    retired: name(retired),
    chosen: chosen === undefined ? null : name(chosen),
  });
}

/** Looks at the folders first, so that the decision rests on what is there. */
async function coverVersion(version: VersionRow, focus: SequenceRow, scope: RunScope): Promise<CoveredScene> {
  const rows = await sequencesOfVersion(pool(), version.id);
  const sequences =
    scope === "version" ? rows : rows.filter((r) => r.camera === focus.camera && r.pass === focus.pass);
  for (const row of sequences) await catchUp(row);
  const revision = await latestRevision(pool(), version.id);
  if (revision === null) throw new TallyError("plan-missing");
  if (revision.plan.watched !== null) throw new TallyError("version-watched", { shot: focus.shot });
  return {
    versionId: version.id,
    revisionId: revision.id,
    scene: await readSceneNow(focus, revision.plan),
    sequences,
  };
}

/** The sequence of the same plan in a version that nothing was made of yet. */
const afresh = (state: SequenceState): SequenceState => ({
  ...state,
  files: [],
  findings: [],
  saved: [],
  tally: asFresh(state.tally),
});

/** Decides on facts read now. @param db a transaction that holds the versions, where it is the last word */
export async function decideOn(
  { phrase, policy, scope, inNextVersion = false }: Omit<Wish, "sequenceId" | "also">,
  covered: readonly CoveredScene[],
  db: Db = pool(),
): Promise<readonly DecidedSequence[]> {
  const states: SequenceState[] = [];
  for (const { scene, sequences } of covered) {
    const reading = { db, scene };
    const [any] = sequences;
    if (any === undefined) continue;
    if (scope === "version") addAll(states, await loadVersion(any, reading));
    else for (const { id } of sequences) states.push(await loadSequence(id, reading));
  }
  const read = decideSequences(inNextVersion ? states.map(afresh) : states, phrase, policy);
  if (!read.ok) throw phraseError(read.error);
  return read.decided;
}

/** What a wish would render in each sequence of its scope. */
export async function prepareRun(wish: Wish): Promise<PreparedRun> {
  const focus = await requireSequence(wish.sequenceId);
  const covered: CoveredScene[] = [];
  for (const version of await versionsOf(focus, wish.also ?? []))
    covered.push(await coverVersion(version, focus, wish.scope));
  const markers = (await shotById(pool(), focus.shotId))?.markers ?? [];
  return { focus, markers, covered, decided: await decideOn(wish, covered) };
}
