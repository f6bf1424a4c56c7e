/** Odd ones of a sequence among their neighbours, from what is kept of every picture: no file is opened. */
import { LRUCache } from "lru-cache";
import type { MeasureColumns } from "@/contract/measure-columns";
import type { OddLine, OddView } from "@/contract/odd-view";
import type { FindingPlace } from "@/contract/sequence-view";
import { setOf } from "@/core/frames/frame-set";
import type { Region } from "@/core/image/sketch";
import { type JudgedOdd, judgedOnes } from "@/core/odd/judged";
import { namedFrames } from "@/core/odd/named-frames";
import { type MeasuredFrame, type Thresholds, USUAL_THRESHOLDS } from "@/core/odd/odd";
import { oddOnes } from "@/core/odd/odd-ones";
import { FOLLOWED, type Profile, profiling } from "@/core/odd/profile";
import { markerSets } from "@/core/tally/names";
import { packSet } from "@/core/tally/packed";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { inSlices } from "../in-slices";
import { AWAY_SECONDS } from "../queue/takers";
import { oddVerdicts } from "../store/findings";
import { measuredFrames, type MeasuringState, measuringState } from "../store/measures";
import { nodesAwake } from "../store/nodes";
import { latestRevision, requireSequence, type SequenceRow, shotById } from "../store/shots";

/** Sequences whose measures stay in memory: a page asks again with every change of a threshold. */
const KEPT = 4;
interface Kept {
  readonly stamp: string;
  readonly profile: Profile;
  /** When it was worked out, and how long that took. */
  readonly atMs: number;
  readonly tookMs: number;
}
/** While nodes measure, working it out takes at most such a part of the time. */
const PART = 10;
const kept = new LRUCache<number, Kept>({ max: KEPT });

/** Of a sequence at a time, however many ask. */
const working = new Map<number, Promise<Profile>>();

async function profileNow(sequenceId: number, { stamp, waiting }: MeasuringState): Promise<Profile> {
  const known = kept.get(sequenceId);
  const isFresh =
    known !== undefined &&
    (known.stamp === stamp || (waiting > 0 && performance.now() - known.atMs < PART * known.tookMs));
  if (isFresh) return known.profile;
  const under = working.get(sequenceId);
  if (under !== undefined) {
    // It may have been begun before what is asked for now was measured.
    await under.catch(() => undefined);
    return profileNow(sequenceId, await measuringState(pool(), sequenceId));
  }
  const work = workOut(sequenceId, stamp).finally(() => working.delete(sequenceId));
  working.set(sequenceId, work);
  return work;
}

async function workOut(sequenceId: number, stamp: string): Promise<Profile> {
  const frames = await measuredFrames(pool(), sequenceId);
  const fromMs = performance.now();
  const profile = await inSlices(profiling(frames));
  const atMs = performance.now();
  kept.set(sequenceId, { stamp, profile, atMs, tookMs: atMs - fromMs });
  return profile;
}

/** @throws TallyError `sequence-unknown` */
export async function viewMeasures(sequenceId: number): Promise<MeasureColumns> {
  await requireSequence(sequenceId);
  const { frames, motion } = await profileNow(sequenceId, await measuringState(pool(), sequenceId));
  return {
    frames: packSet(setOf(frames.map(({ frame }) => frame))),
    change: motion.means,
    black: frames.map(FOLLOWED.black),
    clipped: frames.map(FOLLOWED.clipped),
    hot: frames.map(FOLLOWED.hot),
  };
}

const placeOf = (region: Region | null, of: MeasuredFrame): FindingPlace | null =>
  region === null
    ? null
    : {
        left: region[0] / of.width,
        top: region[1] / of.height,
        width: region[2] / of.width,
        height: region[3] / of.height,
      };

/** What is odd of a sequence, what was said of it, and by which thresholds. */
export interface OddNow {
  readonly odd: readonly (JudgedOdd & Pick<OddLine, "place"> & { readonly content: string })[];
  readonly thresholds: Thresholds | null;
  readonly state: MeasuringState;
}

export async function oddNow(sequence: SequenceRow): Promise<OddNow> {
  const shot = await shotById(pool(), sequence.shotId);
  if (shot === null) throw new TallyError("sequence-unknown");
  const [state, verdicts, revision] = await Promise.all([
    measuringState(pool(), sequence.id),
    oddVerdicts(pool(), sequence.id),
    latestRevision(pool(), sequence.versionId),
  ]);
  const profile = await profileNow(sequence.id, state);
  const { frames } = profile;
  const byFrame = new Map(frames.map((frame) => [frame.frame, frame]));
  const found = oddOnes(
    profile,
    shot.thresholds ?? USUAL_THRESHOLDS,
    namedFrames(revision === null ? {} : markerSets(shot.markers, revision.plan)),
  );
  const contents = new Map(frames.map(({ frame, content }) => [frame, content]));
  return {
    odd: judgedOnes(found, contents, verdicts).map((one) => {
      const of = byFrame.get(one.frame)!;
      return { ...one, place: placeOf(one.region, of), content: of.content };
    }),
    thresholds: shot.thresholds,
    state,
  };
}

/** @throws TallyError `sequence-unknown` */
export async function viewOdd(sequenceId: number): Promise<OddView> {
  const [{ odd, thresholds, state }, awake] = await Promise.all([
    oddNow(await requireSequence(sequenceId)),
    nodesAwake(pool(), AWAY_SECONDS),
  ]);
  return {
    odd: odd.map(({ content: _, region: __, ...line }) => line),
    thresholds: thresholds ?? USUAL_THRESHOLDS,
    areUsual: thresholds === null,
    measured: state.measured,
    unshown: state.unshown,
    waiting: state.waiting,
    nodesAwake: awake,
  };
}
