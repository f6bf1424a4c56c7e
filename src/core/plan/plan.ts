/**
 * The plan: everything that decides what the pixels and the files are. Kept as numbered revisions, each
 * unchangeable.
 */
import { nameFault } from "../naming/name";
import { type FrameSet, lastOf, firstOf } from "../frames/frame-set";
import { parsePhrase } from "../frames/phrase";
import {
  type Alpha,
  type ChannelChoice,
  DEFAULT_FILE,
  extensionOf,
  fileFault,
  type FileFormat,
  mayHoldAlpha,
  writtenFormat,
} from "../image/file-format";
import { MAX_SIDE } from "../image/pixels";
import { type NamePattern, type NameValues, fileName, parsePattern } from "../naming/pattern";
import { makeRate, type Rate, rateText } from "../timing/rate";
import type { CameraMove } from "./camera-move";
import { moveFault } from "./camera-move";
import { canonicalJson, type Json } from "./canonical";
import { type CheckpointRule, MIN_CHECKPOINT_MINUTES, USUAL_CHECKPOINTS } from "./checkpoint-rule";
import type { Lens } from "./lens";
import type { Pass } from "./passes";
import { type FilterSettings, type Sampling, scaledSize, type Shading } from "./picture";
import type { OptionValue } from "./option-value";
import { ELSEWHERE, isExternal, STAND_IN } from "./renderer";
import type { TimeLine } from "./scene-time";
import { nameInPlace, type Watched } from "./watched";

export interface Plan {
  /** Scene file, relative to the project's folder. */
  readonly scene: string;
  /** The stand-in, or a name that the configuration file declares. */
  readonly renderer: string;
  /** One sequence each. */
  readonly cameras: readonly string[];
  /** File numbers, as a phrase with plain numbers only: a plan must not change with the tally. */
  readonly frames: string;
  /** File number less scene frame. */
  readonly offset: number;
  /** The shot's time line as it was when the plan was made. */
  readonly timeLine: TimeLine;
  /** Rate of the sequence; another one than the time line's keeps the duration. */
  readonly rate: Rate;
  /** Markers whose stretch is not rendered, by name: kept so that the preflight can say what is left out. */
  readonly markersOff: readonly string[];

  /** Pixels of the final, before the scale. */
  readonly width: number;
  /** Pixels of the final, before the scale. */
  readonly height: number;
  /** Percent of width and height that is really rendered. */
  readonly scale: number;
  /** Width of a pixel over its height. */
  readonly pixelAspect: number;

  readonly shading: Shading;
  readonly filter: FilterSettings;
  /** Share of a frame that the shutter is open; "scene" as the scene says; 0 is off. */
  readonly shutter: number | "scene";
  readonly lens: Lens | "scene" | "off";
  /** When writing 8 bits. */
  readonly dither: boolean;
  /** Of the random numbers: another one makes other grain. */
  readonly seed: number;
  readonly grain: "by-frame" | "same";

  /** At most so many a pixel. */
  readonly samples: number;
  /** A pixel, before noise may end a frame. */
  readonly minSamples: number;
  /** Share of white; null: always all samples. */
  readonly noiseTarget: number | null;
  /** Render seconds a frame, over all its attempts; null: no limit. */
  readonly timeLimit: number | null;
  readonly sampling: Sampling;
  /** When what a frame has so far is saved. */
  readonly checkpoints: CheckpointRule;
  /** Keep the samples of a good frame, so that more can be added. */
  readonly keepSamples: boolean;

  /** The beauty among them. */
  readonly passes: readonly Pass[];
  readonly file: FileFormat;
  readonly alpha: Alpha;
  readonly channels: ChannelChoice;
  /** Of the files, without their ending. */
  readonly namePattern: string;
  /** Of the number, where the pattern says nothing of it. */
  readonly digits: number;
  /** Options of its renderer where they differ from what is usual, by their names. */
  readonly options: Readonly<Record<string, OptionValue>>;
  /** A camera move of the plan's own, instead of the scene camera's. */
  readonly move: CameraMove | null;
  /** Where the frames come from, when something else renders them; null: they are rendered from the scene. */
  readonly watched: Watched | null;
}

/** Samples of a pixel: far beyond what any eye or deadline asks for. */
export const MAX_SAMPLES = 65_536;
/** A plan of more frames than this is a slip of the hand; the phrase language itself has no such limit. */
export const MAX_PLAN_FRAMES = 1_000_000;
/** Pixels: wider ones blur more than anybody wants. */
const MAX_FILTER_RADIUS = 8;

/** Settings that a new plan begins with, besides scene, cameras, frames and time line. */
export const PLAN_DEFAULTS = {
  renderer: STAND_IN,
  offset: 0,
  markersOff: [],
  width: 1920,
  height: 1080,
  scale: 100,
  pixelAspect: 1,
  shading: "full",
  filter: { kind: "box", radius: 0.5 },
  shutter: "scene",
  lens: "scene",
  dither: false,
  seed: 1,
  grain: "by-frame",
  samples: 64,
  minSamples: 1,
  noiseTarget: null,
  timeLimit: null,
  sampling: "rounds",
  checkpoints: USUAL_CHECKPOINTS,
  keepSamples: false,
  passes: ["beauty"],
  file: DEFAULT_FILE.png,
  alpha: "none",
  channels: "colour",
  namePattern: "{shot}_{version}.{frame}",
  digits: 4,
  options: {},
  move: null,
  watched: null,
} as const satisfies Partial<Plan>;

/** A plan that has been read: every text in it means something. */
export interface ReadPlan {
  readonly plan: Plan;
  /** Frames by numbers of files. */
  readonly asked: FrameSet;
  /** Of the files' names. */
  readonly pattern: NamePattern;
}

export interface PlanFault {
  readonly field: keyof Plan;
  readonly code: string;
  /** With the value and what would do. */
  readonly message: string;
}

/** Numbers that must lie inside limits, and what a person calls them. */
const NUMBERS: readonly {
  readonly field: "width" | "height" | "samples" | "minSamples" | "scale" | "seed" | "offset" | "pixelAspect";
  /** Inclusive, as the high one. */
  readonly low: number;
  readonly high: number;
  readonly whole: boolean;
  /** As the sentence begins. */
  readonly label: string;
}[] = [
  { field: "width", low: 1, high: MAX_SIDE, whole: true, label: "The width" },
  { field: "height", low: 1, high: MAX_SIDE, whole: true, label: "The height" },
  { field: "scale", low: 1, high: 400, whole: false, label: "The scale, in percent," },
  { field: "pixelAspect", low: 0.1, high: 10, whole: false, label: "The pixel aspect" },
  { field: "samples", low: 1, high: MAX_SAMPLES, whole: true, label: "Samples" },
  { field: "minSamples", low: 1, high: MAX_SAMPLES, whole: true, label: "Samples at least" },
  { field: "seed", low: 0, high: 4_294_967_295, whole: true, label: "The seed" },
  { field: "offset", low: -1_000_000, high: 1_000_000, whole: true, label: "The offset" },
];

/** NaN is not. */
const isInside = (value: unknown, low: number, high: number): value is number =>
  typeof value === "number" && value >= low && value <= high;
/** A blank field is NaN. */
const shown = (value: number): string => (Number.isNaN(value) ? "blank" : String(value));

/** Settings that are numbers, each by itself. */
function numberFaults(plan: Plan): PlanFault[] {
  const faults: PlanFault[] = [];
  for (const { field, low, high, whole, label } of NUMBERS) {
    const value = plan[field];
    if (!isInside(value, low, high) || (whole && !Number.isInteger(value)))
      faults.push({
        field,
        code: `plan-${field}`,
        message: `${label} must be a${whole ? " whole" : ""} number from ${low.toLocaleString("en")} to ${high.toLocaleString("en")}; it is ${shown(value)}.`,
      });
  }
  const { width, height } = scaledSize(plan);
  if (faults.length === 0 && Math.max(width, height) > MAX_SIDE)
    faults.push({
      field: "scale",
      code: "plan-scale",
      message: `At ${plan.scale} % the picture is ${width} x ${height}; a side may have ${MAX_SIDE.toLocaleString("en")} pixels at most.`,
    });
  if (plan.minSamples > plan.samples)
    faults.push({
      field: "minSamples",
      code: "plan-minSamples",
      message: `At least ${plan.minSamples} samples are more than the ${plan.samples} at most.`,
    });
  return faults;
}

/** Settings of the picture that are more than a number. */
function pictureFaults(plan: Plan): PlanFault[] {
  const faults: PlanFault[] = [];
  const refuse = (field: keyof Plan, message: string): void =>
    void faults.push({ field, code: `plan-${field}`, message });
  if (makeRate(plan.rate.numerator, plan.rate.denominator) === null)
    refuse(
      "rate",
      `${rateText(plan.rate)} is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`,
    );
  if (!isInside(plan.filter.radius, 0.1, MAX_FILTER_RADIUS))
    refuse("filter", `The filter's radius goes from 0.1 to ${MAX_FILTER_RADIUS} pixels.`);
  if (plan.shutter !== "scene" && !isInside(plan.shutter, 0, 1))
    refuse("shutter", "The shutter is open for a share of the frame, from 0 to 1.");
  if (plan.noiseTarget !== null && !isInside(plan.noiseTarget, 0.0001, 0.5))
    refuse("noiseTarget", "The noise target goes from 0.01 to 50 percent of white.");
  if (plan.timeLimit !== null && !isInside(plan.timeLimit, 0.1, 1_000_000))
    refuse("timeLimit", "The time limit must be at least a tenth of a second.");
  if (plan.timeLimit !== null && plan.sampling === "tiles")
    refuse(
      "timeLimit",
      "A time limit needs sampling in rounds: tile by tile there is no whole picture before the last tile.",
    );
  if (plan.keepSamples && plan.sampling === "tiles")
    refuse("keepSamples", "More samples can be added to rounds only: a tile is final.");
  if (plan.checkpoints.kind === "every" && !isInside(plan.checkpoints.minutes, MIN_CHECKPOINT_MINUTES, 1440))
    refuse("checkpoints", `Checkpoints can be saved every ${MIN_CHECKPOINT_MINUTES} to 1,440 minutes.`);
  if (typeof plan.lens === "object") {
    for (const [name, value] of [
      ["The f-number", plan.lens.fNumber],
      ["The focus distance", plan.lens.focusDistance],
    ] as const) {
      const values = typeof value === "object" ? value.keys.map((k) => k.value) : [value];
      const isRising =
        typeof value !== "object" ||
        value.keys.every((k, i) => i === 0 || k.frame > value.keys[i - 1]!.frame);
      if (values.length === 0 || !values.every((v) => isInside(v, 0.01, 100_000)))
        refuse("lens", `${name} must be a number above 0.`);
      else if (!isRising) refuse("lens", `${name}: the frames of its keys must rise.`);
    }
  }
  const wrongFile = fileFault(plan.file);
  if (wrongFile !== null) refuse("file", wrongFile);
  if (plan.alpha !== "none" && !mayHoldAlpha(plan.file))
    refuse("alpha", "This format cannot hold alpha; choose none, or PNG, TIFF or OpenEXR.");
  if (plan.watched === null && !plan.passes.includes("beauty"))
    refuse("passes", "Beauty is always written: the other passes come along with it.");
  if (isExternal(plan)) {
    if (plan.move !== null) refuse("move", "Another renderer knows the scene's own cameras only.");
  }
  const wrongMove = plan.move === null ? null : moveFault(plan.move);
  if (wrongMove !== null) refuse("move", wrongMove);
  return faults;
}

/** A plan is rendered or watched, whole: half of either would be neither. */
function sourceFaults({ watched, renderer, file }: Plan): PlanFault[] {
  const refuse = (field: keyof Plan, message: string): PlanFault[] => [
    { field, code: `plan-${field}`, message },
  ];
  if (watched === null) {
    if (renderer === ELSEWHERE) return refuse("renderer", "Choose what renders it.");
    return file.kind === "foreign" ? refuse("file", "Choose what files are written.") : [];
  }
  if (renderer !== ELSEWHERE)
    return refuse(
      "renderer",
      "Its frames are rendered elsewhere: open the next version to render them here.",
    );
  if (watched.sequences.length === 0) return refuse("watched", "There is no sequence to watch.");
  const keys = new Set<string>();
  for (const { camera, pass } of watched.sequences) {
    const key = JSON.stringify([camera.toLowerCase(), pass]);
    if (keys.has(key))
      return refuse(
        "watched",
        `Two sequences would both be ${camera} ${pass}: give one of them another camera or pass.`,
      );
    keys.add(key);
  }
  return [];
}

/** Reads a plan; every fault is told at once, each with its field. */
export function readPlan(
  plan: Plan,
):
  | { readonly ok: true; readonly value: ReadPlan }
  | { readonly ok: false; readonly faults: readonly PlanFault[] } {
  const faults = [...numberFaults(plan), ...pictureFaults(plan), ...sourceFaults(plan)];
  if (plan.watched === null && plan.scene.trim() === "")
    faults.push({ field: "scene", code: "plan-scene", message: "Choose a scene file." });
  if (plan.cameras.length === 0)
    faults.push({ field: "cameras", code: "plan-cameras", message: "Choose at least one camera." });
  for (const camera of plan.cameras) {
    const fault = nameFault(camera);
    if (fault === null) continue;
    faults.push({ field: "cameras", code: "plan-cameras", message: `The name of a camera ${fault}.` });
    break;
  }
  const frames = parsePhrase(plan.frames);
  if (!frames.ok) faults.push({ field: "frames", code: frames.error.code, message: frames.error.message });
  else if (frames.set.count === 0)
    faults.push({ field: "frames", code: "plan-no-frames", message: "The phrase leaves no frame." });
  else if (frames.set.count > MAX_PLAN_FRAMES)
    faults.push({
      field: "frames",
      code: "plan-too-many-frames",
      message: `${frames.set.count.toLocaleString("en")} frames are more than a plan may ask for (${MAX_PLAN_FRAMES.toLocaleString("en")}).`,
    });
  const pattern = parsePattern(plan.namePattern, plan.digits);
  if (!pattern.ok)
    faults.push({
      field: pattern.error.code === "pattern-digits" ? "digits" : "namePattern",
      code: pattern.error.code,
      message: pattern.error.message,
    });
  if (faults.length > 0 || !frames.ok || !pattern.ok) return { ok: false, faults };
  return { ok: true, value: { plan, asked: frames.set, pattern: pattern.pattern } };
}

/** A final is the shot; a rough is made to judge one thing of it and never counts as the shot. */
export const PURPOSES = ["final", "rough"] as const;
/** A rough is never work to do and never goes into the cut. */
export type Purpose = (typeof PURPOSES)[number];

/** What tells versions of a shot apart: rough ones count by themselves. */
export interface VersionKey {
  /** From 1, finals and roughs apart. */
  readonly version: number;
  readonly purpose: Purpose;
}

/** What names a sequence on disk besides the frame. */
export interface SequenceKey extends VersionKey {
  /** As the scene calls it. */
  readonly camera: string;
  readonly pass: string;
}

/** v001, rough001: in names, folders, addresses and on the command line. */
export const versionName = ({ version, purpose }: VersionKey): string =>
  `${purpose === "rough" ? "rough" : "v"}${String(version).padStart(3, "0")}`;

/** Reads v001, rough001 or a bare number. */
export function readVersionName(text: string): VersionKey | null {
  const match = /^(v|rough)?0*([1-9]\d{0,5})$/.exec(text);
  return match === null
    ? null
    : { version: Number(match[2]), purpose: match[1] === "rough" ? "rough" : "final" };
}

/** Names of project and shot when a version was opened: its folder and its files bear them for ever. */
export interface NamedAs {
  readonly namedProject: string;
  readonly namedShot: string;
}

/** What the tokens of a name stand for, in one sequence. */
export const nameValues = ({ namedProject, namedShot, ...key }: SequenceKey & NamedAs): NameValues => ({
  project: namedProject,
  shot: namedShot,
  version: versionName(key),
  camera: key.camera,
  pass: key.pass,
});

/** Names of a sequence's files, whatever folder they are in: as they were found, or as the plan makes them. */
function namerOf(
  { plan, pattern }: ReadPlan,
  { camera, pass }: Pick<SequenceKey, "camera" | "pass">,
  values: NameValues,
): (frame: number) => string {
  if (plan.watched !== null) {
    const found = plan.watched.sequences.find((s) => s.camera === camera && s.pass === pass);
    return found === undefined ? () => "" : (frame) => nameInPlace(found.place, frame);
  }
  const extension = extensionOf(writtenFormat(plan.file));
  return (frame) => fileName(pattern, values, frame, extension);
}

/** Name of a frame's file, whatever folder it goes to. */
export const frameName = (read: ReadPlan, place: SequenceKey & NamedAs, frame: number): string =>
  namerOf(read, place, nameValues(place))(frame);

/** First, middle and last file name, for the preview. */
export function sampleNames(
  read: ReadPlan,
  values: NameValues,
  middle: number,
): readonly [string, string, string] {
  const name = namerOf(read, values, values);
  return [name(firstOf(read.asked)!), name(middle), name(lastOf(read.asked)!)];
}

/** A camera with a pass: what tells sequences of a version apart. */
export interface PlannedSequence {
  readonly camera: string;
  readonly pass: Pass;
}

/** Keys of the sequences of a plan: every camera with every pass, or those that were found. */
export const sequencesOf = (plan: Plan): readonly PlannedSequence[] =>
  plan.watched?.sequences ?? plan.cameras.flatMap((camera) => plan.passes.map((pass) => ({ camera, pass })));

/** Whether a plan asks for a sequence: another one may have made it. */
export const plansSequence = (
  plan: Plan,
  { camera, pass }: { readonly camera: string; readonly pass: string },
): boolean => sequencesOf(plan).some((s) => s.camera === camera && s.pass === pass);

/** The one that stands for the version where none is named: the first camera's beauty, else its first pass. */
export function mainSequenceOf(plan: Plan): PlannedSequence {
  const all = sequencesOf(plan);
  const ofCamera = all.filter((s) => s.camera === plan.cameras[0]);
  return ofCamera.find((s) => s.pass === "beauty") ?? ofCamera[0] ?? all[0]!;
}

/** The one that a camera and a pass name; what is left open is as in the main one, as far as there is such a sequence. */
export function wantedSequence(
  plan: Plan,
  wanted: { readonly camera?: string | null; readonly pass?: string | null },
): { readonly camera: string; readonly pass: string } {
  const main = mainSequenceOf(plan);
  const camera = wanted.camera ?? main.camera;
  const ofCamera = sequencesOf(plan).filter((s) => s.camera === camera);
  const usual = ofCamera.find((s) => s.pass === "beauty") ?? ofCamera[0] ?? main;
  return { camera, pass: wanted.pass ?? usual.pass };
}

/** By value, whatever order keys have. */
const isEqual = (a: unknown, b: unknown): boolean => canonicalJson(a as Json) === canonicalJson(b as Json);

/** Fields in which two plans differ, by value and in the plan's order. */
export const changedFields = (before: Plan, after: Plan): (keyof Plan)[] =>
  (Object.keys(after) as (keyof Plan)[]).filter((field) => !isEqual(before[field], after[field]));

/**
 * Changed fields that are fixed once the version holds files: changing one opens the next version.
 * Compression may change, format and depth not.
 */
export function fixedChanges(before: Plan, after: Plan): (keyof Plan)[] {
  // Of frames that were found the plan only tells; what it tells may be put right.
  if (before.watched !== null)
    return after.watched !== null && isEqual(before.watched.sequences, after.watched.sequences)
      ? []
      : ["watched"];
  const depth = (file: FileFormat): unknown => (file.kind === "jpeg" ? 8 : file.depth);
  return changedFields(before, after).filter(
    (field) =>
      field === "watched" ||
      field === "namePattern" ||
      field === "digits" ||
      field === "alpha" ||
      field === "channels" ||
      (field === "file" &&
        (before.file.kind !== after.file.kind || depth(before.file) !== depth(after.file))),
  );
}

/** Somebody who says which frames are asked for has said so: the plan no longer follows what is found. */
export const settleFrames = (before: Plan, after: Plan): Plan =>
  after.watched !== null && before.frames !== after.frames
    ? { ...after, watched: { ...after.watched, followsFiles: false } }
    : after;

/** A plan as it was kept: a setting that there was not yet has its default. */
export const fromStoredPlan = (stored: Plan): Plan => ({ ...PLAN_DEFAULTS, ...stored });
