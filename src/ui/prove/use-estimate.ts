"use client";
/** The estimate of what the plan still asks for, from proofs and history, as the draft stands. */
import { useMemo } from "react";
import { type CostModel, costModel } from "@/core/estimate/cost-model";
import { type Estimate, type EstimateRequest, estimateRun } from "@/core/estimate/estimate";
import { scaledSize } from "@/core/plan/picture";
import { isExternal } from "@/core/plan/renderer";
import { useLive } from "../live/live-store";
import { useScene } from "../live/queries";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { basisOf, grainOf, type LightBasis, lightOf } from "./basis";
import { nameOfShot } from "../live/api";
import type { ProofsView } from "@/contract/proof-view";

export interface PlanEstimate {
  /** What frames cost along the shot. */
  readonly model: CostModel;
  /** What was asked of the model: frames, target, nodes. */
  readonly request: EstimateRequest;
  /** The answer. */
  readonly estimate: Estimate;
  /** Timed frames by where they come from. */
  readonly proofs: number;
  readonly history: number;
  /** Gathered light that comes before the frames. */
  readonly lighting: LightBasis;
  /** Expected grain of the beauty, share of white; null where no proof tells. */
  readonly grain: number | null;
}

/** @param nodes names of the nodes that take part; null for every one that is awake */
export function usePlanEstimate(
  view: ProofsView | undefined,
  nodes: readonly string[] | null,
): PlanEstimate | null {
  const {
    draft: { plan, read },
    shot,
  } = useShotWork();
  const { tally } = useSequenceNow();
  const live = useLive();
  const every = useScene(nameOfShot(shot), isExternal(plan) ? "" : plan.scene).data?.lightEvery ?? null;
  const awake = live.nodes
    .filter((n) => n.state === "at-work" || n.state === "idle")
    .map((n) => n.name)
    .join(",");
  return useMemo(() => {
    if (view === undefined || read === null) return null;
    const basis = basisOf(plan, shot.plan, read.asked, tally.results.good, view);
    const model = costModel(basis.samples);
    if (model === null || basis.frames.count === 0) return null;
    const names = nodes ?? awake.split(",").filter((name) => name !== "");
    const { width, height } = scaledSize(plan);
    const lighting = lightOf(plan, shot.plan, basis.frames, every, view);
    const request: EstimateRequest = {
      frames: basis.frames,
      cameras: plan.cameras.length,
      lighting: lighting.seconds === null ? null : { caches: lighting.caches, seconds: lighting.seconds },
      target: {
        pixels: width * height,
        samples: plan.samples,
        isDenoised: plan.passes.includes("denoised"),
        timeLimit: plan.timeLimit,
      },
      // With no node awake the figures are those of one usual node: better than none at all.
      speeds: (names.length === 0 ? ["nobody"] : names).map((name) => model.speeds.get(name) ?? 1),
      lostShare: view.lostShare,
    };
    return {
      model,
      request,
      estimate: estimateRun(model, request),
      proofs: basis.proofs,
      history: basis.history,
      lighting,
      grain: grainOf(plan, view),
    };
  }, [view, read, plan, shot.plan, tally, nodes, awake, every]);
}
