/** Texts of the Prove bench. */
import type { CostModel } from "@/core/estimate/cost-model";
import type { NodeSlots } from "@/core/estimate/node-slots";
import type { WayBack } from "@/core/estimate/estimate";
import type { ProofsView } from "@/contract/proof-view";
import { goesOn } from "@/core/run/run-life";
import type { LightBasis } from "./basis";
import { count, duration, frames, ordinal } from "../words";

/** A tenth of a percent matters where there are few. */
const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
export const percentText = percent;

/** One change and its price. */
export function wayText(way: WayBack, scale: number): { readonly change: string; readonly price: string } {
  switch (way.change) {
    case "samples":
      return { change: `${count(way.samples)} samples`, price: `${way.grain.toFixed(1)} times the grain` };
    case "time-limit":
      return {
        change: `at most ${duration(way.seconds)} a frame`,
        price: `${count(way.cut)} frames end early, the dearest with ${way.grain.toFixed(1)} times the grain`,
      };
    case "scale":
      return {
        change: `scale ${Math.floor(scale * way.factor)} %`,
        price: `${percent(way.pixelShare)} of the pixels`,
      };
    case "step":
      return {
        change: `every ${ordinal(way.step)} frame`,
        price: `${way.step - 1} of ${way.step} frames are not there`,
      };
    case "nodes":
      return {
        change: `${count(way.more)} more node${way.more === 1 ? "" : "s"}`,
        price: "as fast as the middle one of yours, each with a machine of its own",
      };
  }
}

/** The gathered light that comes before the frames. */
export const lightText = ({ caches, seconds }: LightBasis): string =>
  seconds === null
    ? `The gathered light at ${frames(caches)} comes first; none was timed yet, and it is not in these figures.`
    : `The gathered light at ${frames(caches)} comes first, ${duration(seconds)} each.`;

/** What became of proofs that were asked for from this page. */
export const startedText = (
  { runs, frames: which }: { readonly runs: readonly number[]; readonly frames: string },
  view: ProofsView | undefined,
): string =>
  view !== undefined &&
  runs.every((id) => view.proofs.some((p) => p.runId === id && p.left === 0 && !goesOn(p.state)))
    ? `Frames ${which} are done.`
    : `Frames ${which} are in the queue, before all runs.`;

/** What the figures rest on. */
export function basisText(
  proofs: number,
  history: number,
  model: Pick<CostModel, "spread" | "leftOut" | "isBusy" | "corrected" | "correction">,
): string {
  const sources = [
    proofs > 0 ? `${count(proofs)} proof${proofs === 1 ? "" : "s"}` : null,
    history > 0 ? `${count(history)} frame${history === 1 ? "" : "s"} of runs` : null,
  ]
    .filter((s) => s !== null)
    .join(" and ");
  const trust =
    model.spread === null
      ? proofs + history === 1
        ? "one alone says nothing of the rest of the shot"
        : "too few to tell their spread"
      : `spread ${percent(model.spread)}`;
  return `Rests on ${sources}, ${trust}${busyText(model)}.`;
}

/** What became of times that were taken beside other work. */
function busyText({
  isBusy,
  leftOut,
  corrected,
  correction,
}: Pick<CostModel, "leftOut" | "isBusy" | "corrected" | "correction">): string {
  if (isBusy) return "; all timed while the machine did other work: likely too high";
  const told = [
    ...(corrected > 0
      ? [
          `${count(corrected)} timed while the machine did other work ${corrected === 1 ? "counts" : "count"} ${percent(correction)} of ${corrected === 1 ? "its" : "their"} seconds, by what the renderer got of the processors`,
        ]
      : []),
    ...(leftOut > 0
      ? [`${count(leftOut)} timed beside other work ${leftOut === 1 ? "is" : "are"} left out`]
      : []),
  ];
  return told.map((text) => `; ${text}`).join("");
}

/** Machines that have fewer processors than frames are rendered on them at once. */
export const crowdedText = (crowded: NodeSlots["crowded"]): string =>
  crowded
    .map(
      ({ host, slots, processors }) =>
        `${host} renders ${count(slots)} frames at once on ${count(processors)} processor${processors === 1 ? "" : "s"}: each is slower for it.`,
    )
    .join(" ");
