/** Presets: named settings without a shot, to use again. Four come along; a team adds its own. */
import { DEFAULT_FILE } from "../image/file-format";
import { type Plan, type PlanFault, readPlan } from "./plan";

/** Settings that say nothing of the shot. */
const PRESET_FIELDS = [
  "width",
  "height",
  "scale",
  "pixelAspect",
  "shading",
  "filter",
  "shutter",
  "lens",
  "dither",
  "seed",
  "grain",
  "samples",
  "minSamples",
  "noiseTarget",
  "timeLimit",
  "sampling",
  "checkpoints",
  "keepSamples",
  "passes",
  "file",
  "alpha",
  "channels",
  "namePattern",
  "digits",
] as const satisfies readonly (keyof Plan)[];

/** A preset may leave settings as they are. */
export type PresetSettings = Partial<Pick<Plan, (typeof PRESET_FIELDS)[number]>>;

export interface ShippedPreset {
  readonly name: string;
  /** What it is for, in a line. */
  readonly about: string;
  /** Those that it sets. */
  readonly settings: PresetSettings;
}

/** They come along, and their names are taken. What a preset does not name stays as it is. */
export const SHIPPED_PRESETS: readonly ShippedPreset[] = [
  {
    name: "Moving rough",
    about: "light over one surface, half the size, few samples: the motion in minutes",
    settings: {
      scale: 50,
      shading: "direct",
      samples: 2,
      minSamples: 1,
      noiseTarget: null,
      timeLimit: null,
      passes: ["beauty"],
      file: { kind: "jpeg", quality: 85 },
      alpha: "none",
    },
  },
  {
    name: "Small proof",
    about: "half the size, denoised: what the final will look like, in a quarter of the time",
    settings: {
      scale: 50,
      shading: "full",
      samples: 16,
      minSamples: 4,
      noiseTarget: null,
      timeLimit: null,
      passes: ["beauty", "denoised"],
      file: DEFAULT_FILE.png,
    },
  },
  {
    name: "Overnight final",
    about: "full size, denoised, ends early where the noise is low enough",
    settings: {
      scale: 100,
      shading: "full",
      filter: { kind: "gaussian", radius: 1.5 },
      samples: 64,
      minSamples: 16,
      noiseTarget: 0.01,
      timeLimit: null,
      passes: ["beauty", "denoised"],
      file: { kind: "png", depth: 16, level: 6 },
    },
  },
  {
    name: "Linear final with passes",
    about: "OpenEXR, half, with depth, normals, albedo and light apart, for compositing",
    settings: {
      scale: 100,
      shading: "full",
      samples: 64,
      minSamples: 16,
      noiseTarget: null,
      timeLimit: null,
      passes: ["beauty", "denoised", "depth", "normal", "albedo", "direct", "indirect"],
      file: DEFAULT_FILE.exr,
      alpha: "premultiplied",
    },
  },
];

/** The settings of a plan that a preset keeps: nothing of the shot itself. */
export const presetOf = (plan: Plan): PresetSettings =>
  Object.fromEntries(PRESET_FIELDS.map((field) => [field, plan[field]]));

/** The plan with a preset's settings in place of its own. */
export const applyPreset = (plan: Plan, settings: PresetSettings): Plan => ({ ...plan, ...settings });

/** Faults of a preset's values, judged on a plan that has no others. */
export function presetFaults(settings: PresetSettings, plan: Plan): readonly PlanFault[] {
  const read = readPlan(applyPreset(plan, settings));
  return read.ok ? [] : read.faults.filter((fault) => fault.field in settings);
}
