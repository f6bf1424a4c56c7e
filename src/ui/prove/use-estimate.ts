"use client";
/** The estimate of what the plan still asks for, from proofs and history, as the draft stands. */
import { useMemo } from "react";
import type { ProofsView } from "@/contract/api";
import { type CostModel, costModel, type CostSample } from "@/core/estimate/cost-model";
import { type Estimate, type EstimateRequest, estimateRun } from "@/core/estimate/estimate";
import { difference, type FrameSet } from "@/core/frames/frame-set";
import { guessPassBytes } from "@/core/plan/consequences";
import { passesMadeStale } from "@/core/plan/fingerprint";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import type { ProofView } from "@/contract/api";
import { useLive } from "../live/live-store";
import { useShotWork } from "../shot/shot-context";

export interface PlanEstimate {
  readonly model: CostModel;
  readonly request: EstimateRequest;
  readonly estimate: Estimate;
  /** Timed frames by where they come from. */
  readonly proofs: number;
  readonly history: number;
  /** Expected grain of the beauty, share of white; null where no proof tells. */
  readonly grain: number | null;
}

export interface Basis {
  readonly frames: FrameSet;
  readonly samples: readonly CostSample[];
  readonly proofs: number;
  readonly history: number;
}

/** Frames still to be made, and the timed frames that say something about them. */
export function basisOf(plan: Plan, saved: Plan, asked: FrameSet, good: FrameSet, view: ProofsView): Basis {
  const alike = (p: ProofView): boolean => p.plan.shading === plan.shading && p.plan.scene === plan.scene;
  const proofs = view.proofs.filter(alike).flatMap((p) => p.frames.filter((f) => plan.cameras.includes(f.camera)).map((f) => f.cost));
  const history = saved.shading === plan.shading && saved.scene === plan.scene ? view.history : [];
  // A look that changes makes every frame anew; else the good ones stay.
  return { frames: passesMadeStale(saved, plan).includes("beauty") ? asked : difference(asked, good), samples: [...proofs, ...history], proofs: proofs.length, history: history.length };
}

/** Grain of the beauty at the plan's samples, from the proof whose samples are nearest: it falls with the square root of samples. */
export function grainOf(plan: Plan, view: ProofsView): number | null {
  const known = view.proofs.flatMap((p) => p.frames.flatMap((f) => f.passes.filter((x) => x.pass === "beauty").map((x) => ({ samples: f.cost.samples, noise: x.noise }))));
  if (known.length === 0) return null;
  const distance = (samples: number): number => Math.abs(Math.log(samples / plan.samples));
  const nearest = known.reduce((a, b) => (distance(b.samples) < distance(a.samples) ? b : a));
  return nearest.noise * Math.sqrt(nearest.samples / plan.samples);
}

/** @param nodes names of the nodes that take part; null for every one that is awake */
export function usePlanEstimate(view: ProofsView | undefined, nodes: readonly string[] | null): PlanEstimate | null {
  const { draft: { plan, read }, shot, tally } = useShotWork();
  const live = useLive();
  const awake = live.nodes.filter((n) => n.state === "at-work" || n.state === "idle").map((n) => n.name).join(",");
  return useMemo(() => {
    if (view === undefined || read === null) return null;
    const basis = basisOf(plan, shot.plan, read.asked, tally.results.good, view);
    const model = costModel(basis.samples);
    if (model === null || basis.frames.count === 0) return null;
    const names = nodes ?? awake.split(",").filter((name) => name !== "");
    const { width, height } = scaledSize(plan);
    const request: EstimateRequest = {
      frames: basis.frames, cameras: plan.cameras.length, target: { pixels: width * height, samples: plan.samples, isDenoised: plan.passes.includes("denoised"), timeLimit: plan.timeLimit },
      speeds: (names.length === 0 ? ["nobody"] : names).map((name) => model.speeds.get(name) ?? 1), lostShare: view.lostShare,
    };
    return { model, request, estimate: estimateRun(model, request), proofs: basis.proofs, history: basis.history, grain: grainOf(plan, view) };
  }, [view, read, plan, shot.plan, tally, nodes, awake]);
}

/** Bytes that the frames still to be made will take, pass by pass: from proofs of the same format and size, else from format and size alone. */
export function storageOf(plan: Plan, frames: number, view: ProofsView): { readonly pass: string; readonly bytes: number; readonly isMeasured: boolean }[] {
  const { width, height } = scaledSize(plan);
  return plan.passes.map((pass) => {
    const known = view.proofs.filter((p) => JSON.stringify(p.plan.file) === JSON.stringify(plan.file) && p.plan.alpha === plan.alpha).flatMap((p) => p.frames.filter((f) => f.cost.pixels === width * height).flatMap((f) => f.passes.filter((x) => x.pass === pass).map((x) => x.bytes)));
    const each = known.length > 0 ? known.reduce((a, b) => a + b, 0) / known.length : guessPassBytes(plan, pass);
    return { pass, bytes: each * frames * plan.cameras.length, isMeasured: known.length > 0 };
  });
}
