/**
 * What a handover shows: sequences, and a row of slots that point into them. A sequence is a reel with one source, an edit
 * one with a source for each shot.
 */
import { difference, type FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import {
  type Gaps,
  lineUp,
  type PictureSize,
  type SizesOfFrames,
  troubled,
  type Trouble,
  TROUBLE_WORD,
  TROUBLES,
  usualSize,
} from "@/core/handover/line-up";
import { type Reading, readingOf } from "@/core/playback/shown-as";
import { frameName, versionName } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import type { Rate } from "@/core/timing/rate";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { sequencePlace } from "../files/layout";
import { type FileRow, sizesOfFiles } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";
import { framesMeant, loadSequence, type SequenceState, stateOf } from "../views/tally";

export interface ReelSource {
  readonly sequence: SequenceRow;
  readonly state: SequenceState;
  /** Absolute. */
  readonly folder: string;
  readonly files: ReadonlyMap<number, FileRow>;
  readonly sizes: SizesOfFrames;
  readonly reading: Reading;
}

export type ReelSlot =
  | { readonly kind: "picture"; readonly of: number; readonly frame: number; readonly from: number }
  /** Black, with what it stands for. */
  | {
      readonly kind: "card";
      readonly of: number | null;
      readonly frame: number | null;
      readonly label: string;
    };

/** What is wrong with frames of one source. */
export interface ReelTrouble {
  readonly kind: Trouble;
  readonly of: number;
  readonly set: FrameSet;
}

export interface Reel {
  /** As names of files begin: `HL010_v001_main_beauty`. */
  readonly stem: string;
  /** For people. */
  readonly title: string;
  readonly sources: readonly ReelSource[];
  readonly slots: readonly ReelSlot[];
  readonly troubles: readonly ReelTrouble[];
  /** Frames that were asked for, as a phrase; of an edit, `all`. */
  readonly frames: string;
  /** Of the first picture, and of all where it is one sequence; null where there is none. */
  readonly size: PictureSize | null;
  readonly rate: Rate;
  /** Of the sequence; of an edit, of the project. */
  readonly folder: string;
  /** What is worth knowing of the choice, as sentences. */
  readonly notes: readonly string[];
}

export async function sourceOf(state: SequenceState): Promise<ReelSource> {
  const { sequence, read } = state;
  return {
    sequence,
    state,
    folder: sequencePlace(sequence),
    files: new Map(state.files.map((file) => [file.frame, file])),
    sizes: await sizesOfFiles(pool(), sequence.id),
    reading: readingOf(read.plan, sequence.pass, read.plan.renderer === STAND_IN),
  };
}

export const sourceOfSequence = async (sequence: SequenceRow): Promise<ReelSource> =>
  sourceOf(await stateOf(sequence));

/** Name of the file that stands for a frame. */
export const fileOf = (source: ReelSource, frame: number): string =>
  source.files.get(frame)?.name ?? frameName(source.state.read, source.sequence, frame);

/** @throws TallyError `phrase-wrong`, `handover-no-frames` */
export function framesOfPhrase(state: SequenceState, phrase: string): FrameSet {
  const frames = framesMeant(state, phrase);
  if (frames.count === 0) throw new TallyError("handover-no-frames").at("frames");
  return frames;
}

const stemOf = ({ shot, camera, pass, ...key }: SequenceRow): string =>
  [shot, versionName(key), camera, pass].join("_").replaceAll(/[^\p{L}\p{N}._-]/gu, "-");

/** What somebody should know before it goes out of the house. */
function notesOf({ sequence, state }: ReelSource, frames: FrameSet): string[] {
  const { plan } = state.read;
  const notes: string[] = [];
  if (sequence.purpose === "rough")
    notes.push(
      `${versionName(sequence)} is a rough version: it was made to judge one thing, not to be the shot.`,
    );
  if (plan.watched === null && plan.scale < 100)
    notes.push(`Its plan renders at ${plan.scale} % of ${plan.width} x ${plan.height}.`);
  const left = difference(state.tally.asked, frames).count;
  if (left > 0) notes.push(`${left} of ${state.tally.asked.count} frames of the plan are left out.`);
  return notes;
}

/** @throws TallyError `phrase-wrong`, `handover-no-frames`, `sequence-unknown` */
export const reelOfSequence = async (id: number, phrase: string, gaps: Gaps): Promise<Reel> =>
  reelOfSource(await sourceOf(await loadSequence(id)), phrase, gaps);

/** @throws TallyError `phrase-wrong`, `handover-no-frames` */
export function reelOfSource(source: ReelSource, phrase: string, gaps: Gaps): Reel {
  const { sequence, state, sizes } = source;
  const frames = framesOfPhrase(state, phrase);
  const { slots, troubles } = lineUp(frames, state.tally, sizes, gaps);
  const bad = troubled(troubles);
  return {
    stem: stemOf(sequence),
    title: `${sequence.shot} ${versionName(sequence)} ${sequence.camera} ${sequence.pass}`,
    sources: [source],
    slots: slots.map((slot) =>
      slot.kind === "picture"
        ? { ...slot, of: 0 }
        : { ...slot, of: 0, label: `${sequence.shot} ${slot.frame}` },
    ),
    troubles: TROUBLES.filter((kind) => troubles[kind].count > 0).map((kind) => ({
      kind,
      of: 0,
      set: troubles[kind],
    })),
    frames: formatPhrase(frames),
    size: usualSize(bad.count === frames.count ? bad : frames, sizes),
    rate: state.read.plan.rate,
    folder: source.folder,
    notes: notesOf(source, frames),
  };
}

/** In words: "no picture: 3-5". */
export const troubleText = (reel: Reel, { kind, of, set }: ReelTrouble): string =>
  `${reel.sources.length > 1 ? `${reel.sources[of]!.sequence.shot} ` : ""}${TROUBLE_WORD[kind]}: ${formatPhrase(set)}`;

/**
 * @throws TallyError `handover-troubles` where gaps shall stop it, `handover-nothing-there` where no slot has a picture
 */
export function requireWhole(reel: Reel, gaps: Gaps): void {
  if (gaps === "stop" && reel.troubles.length > 0)
    throw new TallyError("handover-troubles", {
      troubles: reel.troubles.map((trouble) => troubleText(reel, trouble)),
    });
  if (!reel.slots.some((slot) => slot.kind === "picture")) throw new TallyError("handover-nothing-there");
}
