"use client";
/** The estimate of what the plan still asks for, from proofs and history, as the draft stands. */
import { useMemo } from "react";
import { type CostModel, costModel } from "@/core/estimate/cost-model";
import { type Estimate, type EstimateRequest, estimateRun } from "@/core/estimate/estimate";
import { mayTake } from "@/core/run/who-takes";
import { type NodeSlots, nodeSlots, type PlannedNode } from "@/core/estimate/node-slots";
import { scaledSize } from "@/core/plan/picture";
import { offerAmong } from "@/core/plan/renderer-offer";
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
  /** How many take part; one where none is awake. */
  readonly nodes: number;
  /** Machines on which they get in each other's way. */
  readonly crowded: NodeSlots["crowded"];
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
  const every =
    useScene(nameOfShot(shot), isExternal(plan) ? "" : plan.scene).data?.lightEvery ??
    offerAmong(shot.renderers, plan.renderer).lightEvery;
  const taking = live.nodes.filter((n) =>
    nodes === null ? n.state === "at-work" || n.state === "idle" : mayTake(nodes, n),
  );
  // Of the node only what a plan of the work must know: its state changes with each frame.
  const planned = JSON.stringify(
    taking.map(({ name, cores, host, processors }): PlannedNode => ({ name, cores, host, processors })),
  );
  return useMemo(() => {
    if (view === undefined || read === null) return null;
    const basis = basisOf(plan, shot.plan, read.asked, tally.results.good, view);
    const model = costModel(basis.samples, plan);
    if (model === null || basis.frames.count === 0) return null;
    const known = JSON.parse(planned) as PlannedNode[];
    const { speeds, crowded } = nodeSlots(known, model.speeds, model.threads);
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
      speeds,
      lostShare: view.lostShare,
    };
    return {
      model,
      request,
      estimate: estimateRun(model, request),
      nodes: Math.max(1, known.length),
      crowded,
      proofs: basis.proofs,
      history: basis.history,
      lighting,
      grain: grainOf(plan, view),
    };
  }, [view, read, plan, shot.plan, tally, planned, every]);
}
