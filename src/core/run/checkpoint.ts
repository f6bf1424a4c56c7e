/**
 * Checkpoints: when a frame's samples are saved while it renders, what that costs, and when a render may go
 * on from them.
 *
 * With rounds, effort may grow from a checkpoint: more samples, a lower noise, a longer time. What
 * belongs to the look may not change. With tiles neither may: a tile that is done is final.
 */
import { canonicalJson, type Json } from "../plan/canonical";
import { type Pass } from "../plan/passes";
import { type Sampling, scaledSize } from "../plan/picture";
import type { Plan } from "../plan/plan";
import { isExternal } from "../plan/renderer";

/** Bytes a pixel in a checkpoint: sums are kept in double precision, so that going on is exact. */
const PIXEL_BYTES = 44;
/** A pixel: sums for alpha and for what lies behind the bodies. */
const COVER_BYTES = 32;
/** A pixel: sums for all passes besides the beauty. */
const LAYER_BYTES = 88;

/** Bytes of one checkpoint of a frame. */
export const checkpointBytes = (
  pixels: number,
  kept: { readonly cover: boolean; readonly layers: boolean },
): number => pixels * (PIXEL_BYTES + (kept.cover ? COVER_BYTES : 0) + (kept.layers ? LAYER_BYTES : 0));

/** Sums that a plan's render keeps: some passes and alpha need more. */
export const sumsOfPlan = (plan: {
  readonly passes: readonly Pass[];
  readonly alpha: string;
}): { readonly cover: boolean; readonly layers: boolean } => ({
  cover: plan.alpha !== "none" || plan.passes.includes("background"),
  layers: plan.passes.some((pass) => pass !== "beauty" && pass !== "background"),
});

/** Bytes of one checkpoint of a frame of a plan. */
export function planCheckpointBytes(plan: Plan): number {
  // What another program keeps, it alone knows before there is any.
  if (isExternal(plan)) return 0;
  const { width, height } = scaledSize(plan);
  return checkpointBytes(width * height, sumsOfPlan(plan));
}

/**
 * Bytes that saved samples take at most at one time: kept ones lie beside every frame, others only while a
 * frame is in work.
 * @param frames of one camera
 * @param inWork frames that render at once
 */
export function checkpointStorage(plan: Plan, frames: number, inWork: number): number {
  const all = frames * plan.cameras.length;
  const at = plan.keepSamples
    ? all
    : plan.checkpoints.kind === "never"
      ? 0
      : Math.min(all, Math.max(1, inWork));
  return at * planCheckpointBytes(plan);
}

/**
 * How far samples got: tile by tile most of a picture may be done, and none of the rest; a program of its own
 * may count none.
 */
export const savedText = (
  { samples, share }: { readonly samples: number; readonly share: number },
  plan: Pick<Plan, "sampling" | "samples">,
): string =>
  plan.sampling === "tiles" || samples === 0
    ? `${Math.floor(share * 100)} % of the picture`
    : `${samples} of ${plan.samples} samples`;

/** Name and value of what a picture was made with. */
type Settings = { readonly [name: string]: Json };

/** What saved samples were made from. */
export interface SavedSamples {
  /** Look settings of the beauty, camera included. */
  readonly look: Settings;
  readonly effort: Settings;
  /** Sums for passes are among them. */
  readonly layers: boolean;
  /** Sums for alpha are among them. */
  readonly cover: boolean;
}

export interface SettingChange {
  /** Name, as in the plan or among the sources. */
  readonly setting: string;
  readonly before: Json;
  readonly after: Json;
}

/** Why a render cannot go on from saved samples. */
export type ResumeBar =
  /** Settings that belong to the look are others now. */
  | { readonly code: "look-changed"; readonly changes: readonly SettingChange[] }
  /** Tile by tile, nothing may change. */
  | { readonly code: "tiles-are-final"; readonly changes: readonly SettingChange[] }
  /** Passes were added that need sums which were not kept. */
  | { readonly code: "sums-not-kept" };

/** By name, so that the message is the same each time. */
function changesOf(before: Settings, after: Settings): SettingChange[] {
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])].sort();
  return names.flatMap((setting) => {
    const [a, b] = [before[setting] ?? null, after[setting] ?? null];
    return canonicalJson(a) === canonicalJson(b) ? [] : [{ setting, before: a, after: b }];
  });
}

/** What an old file does not say is rounds. */
const samplingOf = (effort: Settings): Sampling => (effort.sampling === "tiles" ? "tiles" : "rounds");

/**
 * What keeps a render from going on, or null when it may. Effort may shrink too: a frame that holds more than
 * is asked is done.
 */
export function resumeBar(saved: SavedSamples, wanted: SavedSamples): ResumeBar | null {
  const look = changesOf(saved.look, wanted.look);
  if (look.length > 0) return { code: "look-changed", changes: look };
  const effort = changesOf(saved.effort, wanted.effort);
  if (effort.length > 0 && (samplingOf(saved.effort) === "tiles" || samplingOf(wanted.effort) === "tiles"))
    return { code: "tiles-are-final", changes: effort };
  if ((wanted.layers && !saved.layers) || (wanted.cover && !saved.cover)) return { code: "sums-not-kept" };
  return null;
}

/** Settings of a plan whose look or effort setting has the plan's own name. */
const SAME_NAME = [
  "shutter",
  "filter",
  "lens",
  "seed",
  "grain",
  "shading",
  "samples",
  "minSamples",
  "noiseTarget",
  "timeLimit",
] as const satisfies readonly (keyof Plan)[];
/** Settings that are called in the plan as in the fingerprint. */
const isSameName = (setting: string): setting is (typeof SAME_NAME)[number] =>
  (SAME_NAME as readonly string[]).includes(setting);

/**
 * Edits of a plan that make it what the samples were made from, or null when no plan can: the scene itself,
 * or the engine, is another.
 */
export function putBackEdits(changes: readonly SettingChange[]): Partial<Plan> | null {
  let edits: Partial<Plan> = {};
  for (const { setting, before } of changes) {
    if (isSameName(setting)) edits = { ...edits, [setting]: before };
    else if (setting === "sampling") edits = { ...edits, sampling: before === "tiles" ? "tiles" : "rounds" };
    else if (setting === "size") {
      const { width, height, aspect } = before as { width: number; height: number; aspect: number };
      edits = { ...edits, width, height, scale: 100, pixelAspect: aspect };
    } else return null;
  }
  return edits;
}
