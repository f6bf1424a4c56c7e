"use client";
/** What frames of a plan take on the disk: one figure for the benches that show it. */
import { useMemo } from "react";
import { storageNeed, type StorageNeed } from "@/core/estimate/storage";
import type { Pass } from "@/core/plan/passes";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import type { ProofsView } from "@/contract/proof-view";
import { useProofs } from "../live/queries";
import { useLive } from "../live/live-store";
import { useSequenceNow, useShotWork } from "./shot-context";

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** Bytes by pass, of proofs of the plan's size and kind of file. */
function provenBytes(plan: Plan, view: ProofsView | undefined): Map<Pass, number> {
  const { width, height } = scaledSize(plan);
  const alike = (view?.proofs ?? [])
    .filter((p) => JSON.stringify(p.plan.file) === JSON.stringify(plan.file) && p.plan.alpha === plan.alpha)
    .flatMap((p) => p.frames.filter((f) => f.cost.pixels === width * height).flatMap((f) => f.passes));
  return new Map(
    plan.passes.flatMap((pass) => {
      const bytes = alike.filter((x) => x.pass === pass).map((x) => x.bytes);
      return bytes.length === 0 ? [] : [[pass, mean(bytes)] as const];
    }),
  );
}

/** Whether files of the saved plan are like those of this one. */
const isAlike = (a: Plan, b: Plan): boolean =>
  JSON.stringify([a.file, a.alpha, scaledSize(a)]) === JSON.stringify([b.file, b.alpha, scaledSize(b)]);

/**
 * By files that are there, else by proofs, else by format and size; samples of as many frames as all nodes that
 * have not ended render at once.
 * @param frames of one camera
 */
export function useStorage(plan: Plan, frames: number): StorageNeed {
  const { shot } = useShotWork();
  const { view, files } = useSequenceNow();
  const proofs = useProofs(view.id).data;
  const inWork = useLive().nodes.reduce((sum, n) => sum + (n.state === "stopped" ? 0 : n.cores), 0);
  const own = isAlike(plan, shot.plan) && files.index.count > 0 ? files.bytes / files.index.count : null;
  return useMemo(() => {
    const measured = provenBytes(plan, proofs);
    if (own !== null) measured.set(shot.sequence.pass, own);
    return storageNeed(plan, frames, Math.max(1, inWork), measured);
  }, [plan, proofs, own, frames, inWork, shot.sequence.pass]);
}
