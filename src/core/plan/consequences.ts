/**
 * What follows from a plan, as figures: pure, and quick enough for every keystroke whatever the number of
 * frames.
 */
import { difference, firstOf, type FrameSet, intersection, lastOf } from "../frames/frame-set";
import { extensionOf, writtenFormat } from "../image/file-format";
import { nameHazards, type NameHazard } from "../naming/hazards";
import { durationSeconds, type Rate } from "../timing/rate";
import { timeCode } from "../timing/time-code";
import { middleFrame } from "../tally/names";
import { type Marker, type PlanNote, planNotes } from "./notes";
import type { Pass } from "./passes";
import { scaledSize } from "./picture";
import {
  type NamedAs,
  nameValues,
  type ReadPlan,
  sampleNames,
  type SequenceKey,
  sequencesOf,
  type VersionKey,
} from "./plan";

/** One of the sequences that the plan makes. */
export interface SequenceNames {
  /** As the scene calls it. */
  readonly camera: string;
  readonly pass: Pass;
  /** First, middle and last. */
  readonly names: readonly [string, string, string];
}

export interface Consequences {
  /** How many are asked for. */
  readonly frames: number;
  /** Number of the first file. */
  readonly first: number;
  readonly last: number;
  /** At the plan's rate. */
  readonly seconds: number;
  /** Length as time code. */
  readonly length: string;
  /** After the scale, and the height. */
  readonly width: number;
  readonly height: number;
  /** Of every camera and pass, the beauty first. */
  readonly sequences: readonly SequenceNames[];
  /** Of names. */
  readonly hazards: readonly NameHazard[];
  /** What a person should know. */
  readonly notes: readonly PlanNote[];
  /** Of the asked frames, those that have a file. */
  readonly there: FrameSet;
  /** Frames with a file that the plan does not ask for. */
  readonly leftOut: FrameSet;
}

export interface PlanPlace extends VersionKey, NamedAs {
  /** Of the shot. */
  readonly markers: readonly Marker[];
  /** Frames that have a file. */
  readonly files: FrameSet;
  /** What the scene file says; null where nobody here can read it. */
  readonly sceneRate: Rate | null;
}

/**
 * Numbers, length, names, and bytes of a plan that can be read. @param place names that the plan itself does
 * not hold
 */
export function consequencesOf(read: ReadPlan, place: PlanPlace): Consequences {
  const { plan, asked } = read;
  const [first, last, middle] = [firstOf(asked)!, lastOf(asked)!, middleFrame(asked)!];
  const keys = sequencesOf(plan);
  const valuesOf = (key: Pick<SequenceKey, "camera" | "pass">) => nameValues({ ...place, ...key });
  return {
    frames: asked.count,
    first,
    last,
    seconds: durationSeconds(asked.count, plan.rate),
    length: timeCode(asked.count, plan.rate),
    ...scaledSize(plan),
    sequences: keys.map((key) => ({ ...key, names: sampleNames(read, valuesOf(key), middle) })),
    // Names that were found are nobody's to choose.
    hazards:
      plan.watched === null
        ? nameHazards(
            plan.namePattern,
            read.pattern,
            keys.map(valuesOf),
            extensionOf(writtenFormat(plan.file)),
            first,
            last,
          )
        : [],
    notes: planNotes(read, place.purpose, place.markers, place.sceneRate),
    there: intersection(asked, place.files),
    leftOut: difference(place.files, asked),
  };
}
