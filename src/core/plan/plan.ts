/** The plan: everything that decides what the pixels and the files are. Kept as numbered revisions, each unchangeable. */
import { type FrameSet, lastOf, firstOf } from "../frames/frame-set";
import { parsePhrase } from "../frames/phrase";
import { type NamePattern, type NameValues, fileName, parsePattern } from "../naming/pattern";

export const FORMATS = { png8: { extension: "png", label: "PNG, 8 bits" } } as const;
export type Format = keyof typeof FORMATS;

export interface Plan {
  /** Scene file, relative to the project's folder. */
  readonly scene: string;
  readonly camera: string;
  /** Frame phrase with plain numbers only: a plan must not change with the tally. */
  readonly frames: string;
  readonly width: number;
  readonly height: number;
  readonly samples: number;
  readonly seed: number;
  readonly namePattern: string;
  readonly digits: number;
  readonly format: Format;
}

export const MAX_SIDE = 16_384;
export const MAX_SAMPLES = 65_536;
/** A plan of more frames than this is a slip of the hand; the phrase language itself has no such limit. */
export const MAX_PLAN_FRAMES = 1_000_000;

/** A plan that has been read: every text in it means something. */
export interface ReadPlan {
  readonly plan: Plan;
  readonly asked: FrameSet;
  readonly pattern: NamePattern;
}

export interface PlanFault {
  readonly field: keyof Plan;
  readonly code: string;
  readonly message: string;
}

/** Numbers that must be whole and inside their limits, and what a person calls them. */
const NUMBERS: readonly (readonly [keyof Plan & ("width" | "height" | "samples"), number, string])[] = [
  ["width", MAX_SIDE, "The width"],
  ["height", MAX_SIDE, "The height"],
  ["samples", MAX_SAMPLES, "Samples"],
];

/** Reads a plan; every fault is told at once, each with its field. */
export function readPlan(plan: Plan): { readonly ok: true; readonly value: ReadPlan } | { readonly ok: false; readonly faults: readonly PlanFault[] } {
  const faults: PlanFault[] = [];
  for (const [field, limit, label] of NUMBERS) {
    const value = plan[field];
    if (!Number.isInteger(value) || value < 1 || value > limit) faults.push({ field, code: `plan-${field}`, message: `${label} must be a whole number from 1 to ${limit.toLocaleString("en")}; it is ${Number.isNaN(value) ? "blank" : value}.` });
  }
  if (plan.scene.trim() === "") faults.push({ field: "scene", code: "plan-scene", message: "Choose a scene file." });
  if (plan.camera.trim() === "") faults.push({ field: "camera", code: "plan-camera", message: "Choose a camera." });
  const frames = parsePhrase(plan.frames);
  if (!frames.ok) faults.push({ field: "frames", code: frames.error.code, message: frames.error.message });
  else if (frames.set.count === 0) faults.push({ field: "frames", code: "plan-no-frames", message: "The phrase leaves no frame." });
  else if (frames.set.count > MAX_PLAN_FRAMES) faults.push({ field: "frames", code: "plan-too-many-frames", message: `${frames.set.count.toLocaleString("en")} frames are more than a plan may ask for (${MAX_PLAN_FRAMES.toLocaleString("en")}).` });
  const pattern = parsePattern(plan.namePattern, plan.digits);
  if (!pattern.ok) faults.push({ field: pattern.error.code === "pattern-digits" ? "digits" : "namePattern", code: pattern.error.code, message: pattern.error.message });
  if (faults.length > 0 || !frames.ok || !pattern.ok) return { ok: false, faults };
  return { ok: true, value: { plan, asked: frames.set, pattern: pattern.pattern } };
}

/** What names a sequence on disk besides the frame. */
export interface SequenceKey {
  readonly version: number;
  readonly camera: string;
  readonly pass: string;
}

export const versionName = (version: number): string => `v${String(version).padStart(3, "0")}`;

export const nameValues = (project: string, shot: string, key: SequenceKey): NameValues =>
  ({ project, shot, version: versionName(key.version), camera: key.camera, pass: key.pass });

/** First, middle and last file name, for the preview. */
export function sampleNames(read: ReadPlan, values: NameValues, middle: number): readonly [string, string, string] {
  const extension = FORMATS[read.plan.format].extension;
  const name = (frame: number): string => fileName(read.pattern, values, frame, extension);
  return [name(firstOf(read.asked)!), name(middle), name(lastOf(read.asked)!)];
}

/** Fields that are fixed once the version holds files: changing one opens the next version. */
export const FIXED_FIELDS = ["namePattern", "digits", "format", "camera"] as const satisfies readonly (keyof Plan)[];

export const changedFields = (before: Plan, after: Plan): (keyof Plan)[] =>
  (Object.keys(after) as (keyof Plan)[]).filter((field) => before[field] !== after[field]);
