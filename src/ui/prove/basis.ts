/**
 * What an estimate of the plan rests on: frames still to be made, and what proofs and runs say of them.
 * Only what is alike counts: proofs of the same scene with the same shading, files of the same kind and
 * size. Other settings scale (core/estimate). Pure, so that the page can work it out at each key.
 */
import { cacheSeconds, type CostSample } from "@/core/estimate/cost-model";
import { difference, type FrameSet } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { passesMadeStale } from "@/core/plan/fingerprint";
import { lightFrames } from "@/core/run/gathered-light";
import type { Plan } from "@/core/plan/plan";
import type { ProofsView, ProofView } from "@/contract/proof-view";

export interface Basis {
  /** What is still to be made. */
  readonly frames: FrameSet;
  /** Timed frames, proofs first. */
  readonly samples: readonly CostSample[];
  /** How many of them are proofs. */
  readonly proofs: number;
  /** How many are frames of earlier runs. */
  readonly history: number;
}

/** Frames still to be made, and the timed frames that say something about them. */
export function basisOf(plan: Plan, saved: Plan, asked: FrameSet, good: FrameSet, view: ProofsView): Basis {
  const alike = (p: ProofView): boolean => p.plan.shading === plan.shading && p.plan.scene === plan.scene;
  const proofs = view.proofs
    .filter(alike)
    .flatMap((p) => p.frames.filter((f) => plan.cameras.includes(f.camera)).map((f) => f.cost));
  const history = saved.shading === plan.shading && saved.scene === plan.scene ? view.history : [];
  // A look that changes makes every frame anew; else the good ones stay.
  return {
    frames: passesMadeStale(saved, plan).includes("beauty") ? asked : difference(asked, good),
    samples: [...proofs, ...history],
    proofs: proofs.length,
    history: history.length,
  };
}

/**
 * Grain of the beauty at the plan's samples, from the proof whose samples are nearest: it falls with the
 * square root of samples.
 */
export function grainOf(plan: Plan, view: ProofsView): number | null {
  const known = view.proofs.flatMap((p) =>
    p.frames.flatMap((f) =>
      f.passes.filter((x) => x.pass === "beauty").map((x) => ({ samples: f.cost.samples, noise: x.noise })),
    ),
  );
  if (known.length === 0) return null;
  const distance = (samples: number): number => Math.abs(Math.log(samples / plan.samples));
  const nearest = known.reduce((a, b) => (distance(b.samples) < distance(a.samples) ? b : a));
  return nearest.noise * Math.sqrt(nearest.samples / plan.samples);
}

export interface LightBasis {
  /** Caches that come before the frames. */
  readonly caches: number;
  /** Seconds of one; null where none was timed. */
  readonly seconds: number | null;
}

/** Gathered light that the frames still need, with what one takes; a look that changes makes them all anew.
 * @param every frames from one to the next; null where the scene asks for none
 */
export function lightOf(
  plan: Plan,
  saved: Plan,
  frames: FrameSet,
  every: number | null,
  { lighting: { there, timed } }: ProofsView,
): LightBasis {
  if (every === null || plan.shading !== "full") return { caches: 0, seconds: null };
  const needed = lightFrames(frames, every);
  const isKept = !passesMadeStale(saved, plan).includes("beauty");
  const of = (camera: string): FrameSet => {
    const kept = isKept ? parsePhrase(there[camera] ?? "") : null;
    return kept?.ok ? difference(needed, kept.set) : needed;
  };
  return {
    caches: plan.cameras.reduce((sum, camera) => sum + of(camera).count, 0),
    seconds: cacheSeconds(timed, plan),
  };
}
