/**
 * Fingerprints as this program makes them: its own denoiser is part of them.
 * A new denoiser makes other pictures from the same samples: its version is part of the look of denoised
 * files alone.
 */
import { type Fingerprints, fingerprintsOf, type LookSources } from "@/core/plan/fingerprint";
import type { Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import { DENOISER_VERSION } from "@/render/denoise";

/** @param key the sequence: camera and pass are part of what decides the pixels */
export const printsOf = (
  plan: Plan,
  sources: LookSources,
  key: { readonly camera: string; readonly pass: Pass },
): Fingerprints => fingerprintsOf(plan, sources, key, DENOISER_VERSION);

/** Look of a camera's beauty: what its saved samples and its gathered light are for. */
export const beautyLook = (plan: Plan, sources: LookSources, camera: string): string =>
  printsOf(plan, sources, { camera, pass: "beauty" }).look;
