/** What a run would render: which frames of which sequences, over one version or several, as tasks in the order of the run. */
import { EMPTY, type FrameSet, intersection, members, setOf, union, unionAll } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase, phraseTerms } from "@/core/frames/phrase";
import type { Marker } from "@/core/plan/notes";
import { readVersionName, versionName } from "@/core/plan/plan";
import { orderFrames, type RunOrder } from "@/core/run/run-order";
import { framesToRender, type Policy, type RenderDecision, sharePasses } from "@/core/run/what-to-render";
import type { Db } from "../db/rows";
import { pool } from "../db/pool";
import { TallyError, phraseError } from "../errors";
import {
  listVersions,
  type SequenceRow,
  sequencesOfVersion,
  shotByCode,
  type VersionRow,
  requireSequence,
} from "../store/shots";
import { catchUp } from "../folder/check";
import { loadSequence, loadVersion, namesOf, type SequenceState } from "../views/tally";
import type { NewTask } from "../store/tasks";

/** One sequence, or all that the version's plan asks for. */
export const SCOPES = ["version", "sequence"] as const;
export type RunScope = (typeof SCOPES)[number];

export interface Wish {
  readonly sequenceId: number;
  readonly scope: RunScope;
  readonly phrase: string;
  readonly policy: Policy;
  /** Names of other versions of the shot that the run covers too: v002, v003. */
  readonly also?: readonly string[];
}

export interface DecidedSequence {
  readonly state: SequenceState;
  readonly decision: RenderDecision;
}

function wantedFrames(state: SequenceState, phrase: string, markers: readonly Marker[]): FrameSet {
  const wanted = parsePhrase(phrase, namesOf(state, markers));
  if (!wanted.ok) throw phraseError(wanted.error);
  return wanted.set;
}

/** A phrase in plain numbers, because what a name means changes while a run goes; its terms apart where their order counts.
 * @param states one of each version: a name means the frames of all of them
 */
export function writtenOut(
  states: readonly SequenceState[],
  phrase: string,
  markers: readonly Marker[],
  order: RunOrder,
): { readonly wanted: string; readonly set: FrameSet; readonly terms: readonly FrameSet[] } {
  const set = unionAll(states.map((state) => wantedFrames(state, phrase, markers)));
  const ofEach = states.map((state) => phraseTerms(phrase, namesOf(state, markers)));
  const terms = ofEach[0]!.map((_, i) =>
    intersection(
      ofEach.reduce((all, terms) => union(all, terms[i] ?? EMPTY), EMPTY),
      set,
    ),
  );
  return {
    set,
    terms,
    wanted:
      order === "as-written"
        ? terms
            .filter((term) => term.count > 0)
            .map(formatPhrase)
            .join(",")
        : formatPhrase(set),
  };
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

function retiredError(retired: VersionRow, all: readonly VersionRow[]): TallyError {
  const name = (v: VersionRow): string => versionName({ version: v.number, purpose: v.purpose });
  const chosen = all.find((v) => v.status === "chosen");
  return new TallyError("version-retired", {
    retired: name(retired),
    chosen: chosen === undefined ? null : name(chosen),
  });
}

/** What a wish would render in each sequence of its scope: a name such as `missing` means each one's own. Looks at the folders first. */
export async function decideRun(wish: Wish): Promise<readonly DecidedSequence[]> {
  const focus = await requireSequence(wish.sequenceId);
  const markers = (await shotByCode(pool(), focus.shot))?.markers ?? [];
  const decided: DecidedSequence[] = [];
  for (const version of await versionsOf(focus, wish.also ?? [])) {
    const rows = await sequencesOfVersion(pool(), version.id);
    const like = rows.find((r) => r.camera === focus.camera && r.pass === focus.pass);
    const looked = wish.scope === "version" ? rows : like === undefined ? [] : [like];
    for (const row of looked) await catchUp(row);
    const states =
      wish.scope === "version"
        ? rows[0] === undefined
          ? []
          : await loadVersion(rows[0])
        : await Promise.all(looked.map((row) => loadSequence(row.id)));
    decided.push(
      ...states.map((state) => ({
        state,
        decision: framesToRender(state.tally, wantedFrames(state, wish.phrase, markers), wish.policy),
      })),
    );
  }
  return decided;
}

/** Names a camera of a version. */
export const leadKey = ({ versionId, camera }: Pick<SequenceRow, "versionId" | "camera">): string =>
  `${versionId}/${camera}`;

/** Beauty sequences, which hold the leases, of each camera of some versions; by `leadKey`. */
export async function leadsOf(db: Db, versionIds: readonly number[]): Promise<ReadonlyMap<string, number>> {
  const all = await Promise.all(versionIds.map((id) => sequencesOfVersion(db, id)));
  return new Map(
    all
      .flat()
      .filter((s) => s.pass === "beauty")
      .map((s) => [leadKey(s), s.id]),
  );
}

/** Tasks of the decided sequences: each frame of a camera once, with the passes that need it. */
export async function tasksOf(
  decided: readonly { readonly sequence: SequenceRow; readonly toRender: FrameSet }[],
): Promise<NewTask[]> {
  const tasks: NewTask[] = [];
  const leads = await leadsOf(pool(), [...new Set(decided.map((d) => d.sequence.versionId))]);
  for (const key of new Set(decided.map((d) => leadKey(d.sequence)))) {
    const parts = sharePasses(
      decided
        .filter((d) => leadKey(d.sequence) === key)
        .map((d) => ({ pass: d.sequence.pass, toRender: d.toRender })),
    );
    const ofCamera = parts.flatMap(({ passes, frames }) =>
      [...members(frames)].map((frame) => ({
        kind: "frame" as const,
        leadId: leads.get(key)!,
        frame,
        passes,
      })),
    );
    tasks.push(...ofCamera);
  }
  return tasks;
}

/** Puts tasks in the order of a run; the cameras and versions of a frame one after the other, so that looks can be compared early. */
export function inOrder<T extends { readonly leadId: number; readonly frame: number }>(
  tasks: readonly T[],
  order: RunOrder,
  terms: readonly FrameSet[],
): T[] {
  const places = new Map(
    orderFrames(setOf(tasks.map((t) => t.frame)), order, terms).map((frame, i) => [frame, i]),
  );
  return [...tasks].sort((a, b) => places.get(a.frame)! - places.get(b.frame)! || a.leadId - b.leadId);
}
