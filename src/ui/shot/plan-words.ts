/**
 * Texts of the Plan bench.
 * Hazards, notes, fields and settings are data of core/plan and core/naming; what they are called, and what
 * a click would mend, stands here once, for the Plan bench, the preflight and lists of changes.
 */
import { largest } from "@/core/many";
import type { Alpha, FileKind } from "@/core/image/file-format";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import type { NameHazard } from "@/core/naming/hazards";
import type { PlanNote } from "@/core/plan/notes";
import type { Pass } from "@/core/plan/passes";
import type { CheckpointRule } from "@/core/plan/checkpoint-rule";
import type { FilterKind, Sampling, Shading } from "@/core/plan/picture";
import { type Plan, readVersionName, versionName } from "@/core/plan/plan";
import type { ShotView } from "@/contract/shot-view";
import { rateText } from "@/core/timing/rate";
import { ordinal } from "../words";

/** As the plan offers them. */
export const SHADING_TEXT: Readonly<Record<Shading, string>> = {
  full: "full",
  direct: "quick: direct light",
  flat: "flat: colours without light",
  line: "lines on paper",
};

/** What happens if nothing is done. */
export function hazardText(hazard: NameHazard): string {
  switch (hazard.code) {
    case "too-few-digits":
      return `${hazard.digits} digits are too few: from the first number with ${hazard.needed} digits on, alphabetical order is no longer frame order.`;
    case "digit-before-number":
      return "A digit stands right before the number: the frame number will be misread later.";
    case "same-name":
      return `${hazard.what} would give files of one name: put together in one folder, they would be written over one another.`;
    case "differs-in-case":
      return "Two names differ in capitals only: another operating system takes them for one file.";
    case "forbidden-characters":
      return `Another operating system refuses ${hazard.characters} in a name: the files cannot be copied there.`;
    case "name-too-long":
      return `The name is ${hazard.length} bytes long; beyond ${hazard.limit} some systems refuse it. Shorten it.`;
    case "negative-numbers":
      return `Frame ${hazard.first} is negative: its minus sorts before the digits, and other programs may read it as a dash. Start at 1 or above.`;
  }
}

/** What the mend's button says; null where there is none. */
export function mendText(hazard: NameHazard): string | null {
  switch (hazard.code) {
    case "too-few-digits":
      return `Use ${hazard.needed} digits`;
    case "digit-before-number":
      return "Put a dot before the number";
    case "same-name":
      return hazard.token === "camera" ? "Put the camera into the name" : "Put the pass into the name";
    case "forbidden-characters":
      return "Replace them with _";
    case "negative-numbers":
      return `Number from ${hazard.first + hazard.mend.offset} on`;
    default:
      return null;
  }
}

/** A note says what follows from the plan; it is no fault. */
export function noteText(note: PlanNote): string {
  switch (note.code) {
    case "step":
      return `Only every ${ordinal(note.step)} frame is rendered: in a final sequence the others are gaps.`;
    case "one-frame":
      return "Only one frame is asked for.";
    case "quick-shading":
      return note.shading === "direct"
        ? "The shading is still quick: no light from one surface to another."
        : `The shading is still for roughs: ${SHADING_TEXT[note.shading]}.`;
    case "scaled":
      return `The scale is still ${note.scale} %: the pictures are ${note.width} x ${note.height}.`;
    case "few-samples":
      return `${note.samples} sample${note.samples === 1 ? "" : "s"} a pixel leave mostly grain.`;
    case "not-denoised":
      return `Nothing is denoised: at ${note.samples} samples the grain will show.`;
    case "other-rate":
      return `The rate is not the scene's: ${note.frames} frames stand for ${note.atOwnRate}.`;
    case "scene-rate":
      return `The scene was made for ${rateText(note.scene)} frames a second, and the plan takes it for ${rateText(note.taken)}: its motion would be too ${note.scene.numerator * note.taken.denominator > note.taken.numerator * note.scene.denominator ? "slow" : "fast"}.`;
    case "odd-size":
      return `${note.width} x ${note.height} has an odd side: H.264 will refuse it when the movie is made.`;
    case "outside-time-line":
      return `${shorten(formatPhrase(note.frames))} ${note.frames.count === 1 ? "lies" : "lie"} outside the time line ${formatPhrase(note.line)}.`;
    case "marker-off":
      return `Switched off: ${note.names.join(", ")}.`;
  }
}

/** What a click puts right, and the change it makes; null where only the person knows. */
export function noteMend(note: PlanNote): { readonly text: string; readonly change: Partial<Plan> } | null {
  switch (note.code) {
    case "step":
      return { text: "Render every frame", change: { frames: formatPhrase(note.full) } };
    case "quick-shading":
      return { text: "Full shading", change: { shading: "full" } };
    case "scaled":
      return { text: "Full size", change: { scale: 100 } };
    case "few-samples":
      return { text: "64 samples", change: { samples: 64 } };
    case "scene-rate":
      return { text: `Take it for ${rateText(note.scene)}`, change: note.mend };
    case "odd-size":
      return { text: `Make it even`, change: note.mend };
    case "outside-time-line":
      return note.inside.count === 0
        ? null
        : { text: `Keep ${formatPhrase(note.inside)}`, change: { frames: formatPhrase(note.inside) } };
    case "not-denoised":
    case "one-frame":
    case "other-rate":
    case "marker-off":
      return null;
  }
}

/** Fields in the middle of a sentence. */
export const FIELD_WORD: Readonly<Record<keyof Plan, string>> = {
  scene: "scene",
  renderer: "renderer",
  cameras: "cameras",
  frames: "frames",
  offset: "offset",
  timeLine: "time line",
  rate: "rate",
  markersOff: "stretches left out",
  width: "width",
  height: "height",
  scale: "scale",
  pixelAspect: "pixel aspect",
  shading: "shading",
  filter: "pixel filter",
  shutter: "shutter",
  lens: "depth of field",
  dither: "dither",
  seed: "seed",
  grain: "grain",
  samples: "samples",
  minSamples: "least samples",
  noiseTarget: "noise target",
  timeLimit: "time limit",
  sampling: "way of sampling",
  checkpoints: "checkpoints",
  keepSamples: "kept samples",
  passes: "passes",
  file: "file format",
  alpha: "alpha",
  channels: "channels",
  namePattern: "name",
  digits: "digits",
  options: "renderer's options",
  move: "camera move",
  watched: "watched folder",
};

/** The value of a setting in a few words. */
export function valueText(value: unknown): string {
  if (value === null) return "none";
  if (Array.isArray(value)) return value.map(valueText).join(", ") || "none";
  if (typeof value !== "object") return String(value);
  if ("width" in value && "height" in value) return `${String(value.width)} x ${String(value.height)}`;
  return Object.values(value).map(valueText).join(" ");
}

/** What each way means for a frame that is stopped. */
export const SAMPLING_TEXT: Readonly<Record<Sampling, string>> = {
  rounds:
    "In rounds a frame can be stopped at any moment with a whole picture, and be given more samples later.",
  tiles:
    "Tile by tile a tile is final once it is done: a stopped frame goes on only if nothing at all has changed.",
};

/** What each rule costs and risks. @param bytes of one checkpoint */
export const CHECKPOINT_TEXT: Readonly<Record<CheckpointRule["kind"], (bytes: string) => string>> = {
  every: (bytes) =>
    `A power cut costs the time since the last save. Each save writes ${bytes}; the one before is there until it is whole.`,
  "on-stop": (bytes) =>
    `Stop now loses nothing and writes ${bytes} a frame; a power cut or a crash costs the whole frame.`,
  never: () => "Nothing is written; whatever stops a frame costs all of it.",
};

/** Names with what they are for. */
export const FILTER_TEXT: Readonly<Record<FilterKind, string>> = {
  box: "box, plain",
  tent: "tent",
  gaussian: "Gaussian, soft: for motion",
  mitchell: "Mitchell, crisp: for stills",
};

/** What is in each pass. */
export const PASS_TEXT: Readonly<Record<Pass, string>> = {
  beauty: "the picture itself; always written",
  denoised: "the picture without its grain",
  depth: "metres from the camera",
  normal: "which way surfaces face",
  albedo: "colour of surfaces without light",
  direct: "light over at most one surface",
  indirect: "light from surface to surface: beauty less direct",
  background: "what is seen behind the bodies: put under a picture with alpha, in linear light, it undoes it",
  emission: "light that surfaces give off themselves",
  diffuse: "light scattered by dull surfaces",
  specular: "highlights",
  reflection: "what mirrors show",
  transmission: "what is seen through glass",
  subsurface: "light from under the surface",
  volume: "smoke, fog and dust",
  shadow: "where light is kept off",
  occlusion: "how shut in a place is",
  position: "where surfaces lie",
  motion: "how far a point moves to the next frame",
  uv: "where on its picture a surface is",
  matte: "which objects cover a pixel",
  id: "a number for each object",
  "light-1": "the first group of lights",
  "light-2": "the second group of lights",
  "light-3": "the third group of lights",
  "light-4": "the fourth group of lights",
  "light-5": "the fifth group of lights",
  "light-6": "the sixth group of lights",
  "light-7": "the seventh group of lights",
  "light-8": "the eighth group of lights",
};

/** As the formats write themselves. */
export const FILE_KIND_TEXT: Readonly<Record<FileKind, string>> = {
  png: "PNG",
  tiff: "TIFF",
  exr: "OpenEXR",
  jpeg: "JPEG",
};

/** As the field offers them. */
export const ALPHA_TEXT: Readonly<Record<Alpha, string>> = {
  none: "none, with sky",
  straight: "straight",
  premultiplied: "premultiplied",
};

/** The version that is opened next, of the same purpose as the one on show. */
export function nextVersionName({ versions, sequence }: Pick<ShotView, "versions" | "sequence">): string {
  const numbers = versions
    .filter((v) => v.purpose === sequence.purpose)
    .map((v) => readVersionName(v.name)?.version ?? 0);
  return versionName({ purpose: sequence.purpose, version: Math.max(0, largest(numbers)) + 1 });
}
