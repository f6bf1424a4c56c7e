/**
 * Fingerprints of a sequence: SHA-256 over a canonical form.
 * - look: what the pixels depend on; must match, or the frame is stale.
 * - effort: how much was asked for; may grow.
 * - file: how the picture is written.
 * Name, folder and nodes are in none. The frame number is in none either: a look is shared by the
 * whole sequence, and what differs from frame to frame follows from the scene.
 */
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import { firstOf, lastOf } from "../frames/frame-set";
import { parsePhrase } from "../frames/phrase";
import { isSameRate } from "../timing/rate";
import { canonicalJson, type Json, asJson } from "./canonical";
import { isLightPass, type Pass } from "./passes";
import { isUnlit, scaledSize } from "./picture";
import type { Plan } from "./plan";
import { framesAStep } from "./scene-time";

export interface Fingerprints {
  /** SHA-256, in hexadecimal, as the others. */
  readonly look: string;
  readonly effort: string;
  readonly file: string;
}

/** What of the files a look depends on: content, never names. */
export interface LookSources {
  /** SHA-256 of the scene file's bytes. */
  readonly scene: string;
  /** SHA-256 of each file that the scene uses, by its name in the scene; null where it was not to be had. */
  readonly files: Readonly<Record<string, string | null>>;
  /** Name and version of the engine, with what its arithmetic depends on. */
  readonly engine: string;
}

/** Of the canonical text. */
const fingerprint = (value: Json): string => bytesToHex(sha256(utf8ToBytes(canonicalJson(value))));

/** What maps file numbers to scene times. At the scene's own rate only the offset counts. */
const timeOf = (plan: Plan): Json =>
  isSameRate(plan.rate, plan.timeLine.rate)
    ? { offset: plan.offset }
    : { offset: plan.offset, first: plan.timeLine.first, step: framesAStep(plan) };

/** A move stretches over the frames asked for: first and last belong to it. */
function moveOf(plan: Plan): Json {
  if (plan.move === null) return null;
  const asked = parsePhrase(plan.frames);
  return {
    ...(asJson(plan.move) as { readonly [key: string]: Json }),
    over: asked.ok ? [firstOf(asked.set), lastOf(asked.set)] : null,
  };
}

/**
 * Settings of a plan that a pass's pixels depend on, each under its name. Distances and normals do
 * not depend on shading or on pictures laid over surfaces, so they stay good when those change.
 */
export function lookSettings(plan: Plan, sources: LookSources, pass: Pass): { readonly [key: string]: Json } {
  const isGeometry = pass === "depth" || pass === "normal";
  return {
    scene: sources.scene,
    engine: sources.engine,
    pass,
    size: { ...scaledSize(plan), aspect: plan.pixelAspect },
    time: timeOf(plan),
    move: moveOf(plan),
    shutter: plan.shutter,
    filter: { ...plan.filter },
    lens: asJson(plan.lens),
    seed: plan.seed,
    grain: plan.grain,
    ...(Object.keys(plan.options).length === 0 ? {} : { options: { ...plan.options } }),
    ...(isGeometry ? {} : { files: { ...sources.files } }),
    // Direct light is the same whether more is followed or not; without light there is none.
    ...(isLightPass(pass) && (pass !== "direct" || isUnlit(plan.shading)) ? { shading: plan.shading } : {}),
  };
}

/** How much was asked for. The way of sampling belongs here: at equal samples it changes no pixel. */
export const effortSettings = (plan: Plan): { readonly [key: string]: Json } => ({
  samples: plan.samples,
  minSamples: plan.minSamples,
  noiseTarget: plan.noiseTarget,
  timeLimit: plan.timeLimit,
  ...(plan.sampling === "tiles" ? { sampling: plan.sampling } : {}),
});

/** @param denoiser version of the denoiser, which only the denoised pass depends on */
export function fingerprintsOf(
  plan: Plan,
  sources: LookSources,
  key: { readonly camera: string; readonly pass: Pass },
  denoiser: string,
): Fingerprints {
  return {
    look: fingerprint({
      ...lookSettings(plan, sources, key.pass),
      camera: key.camera,
      ...(key.pass === "denoised" ? { denoiser } : {}),
    }),
    effort: fingerprint(effortSettings(plan)),
    file: fingerprint({
      file: asJson(plan.file),
      alpha: plan.alpha,
      dither: plan.dither,
      ...(plan.channels === "grey" ? { channels: plan.channels } : {}),
    }),
  };
}

/**
 * Passes whose pictures another plan would make differently: their good frames would be out of date.
 * @param isOtherScene what is rendered is another one; left out, any other file or renderer is. Whoever has read
 * both files knows better: a copy is the same scene.
 */
export function passesMadeStale(
  before: Plan,
  after: Plan,
  isOtherScene = before.scene !== after.scene || before.renderer !== after.renderer,
): Pass[] {
  const sources: LookSources = { scene: "", files: {}, engine: "" };
  return before.passes.filter(
    (pass) =>
      isOtherScene ||
      canonicalJson(lookSettings(before, sources, pass)) !==
        canonicalJson(lookSettings(after, sources, pass)),
  );
}
