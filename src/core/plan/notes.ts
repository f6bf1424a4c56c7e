/**
 * What a person should know about a plan that is sound as such: leftovers of a rough run in a final
 * one, gaps, sizes that get in the way later. Data; wording and mend buttons live in the interface,
 * and the preflight tells the same notes again before a start.
 */
import { type FrameSet, firstOf, intersection, lastOf, rangeSet } from "../frames/frame-set";
import { writtenRange } from "../frames/phrase";
import { retimedCount, isSameRate, type Rate } from "../timing/rate";
import { numbersOfStretch, outsideTimeLine } from "./scene-time";
import type { Plan, Purpose, ReadPlan } from "./plan";
import { scaledSize, type Shading } from "./picture";
import { isExternal } from "./renderer";

export interface Marker {
  /** Unique in its shot. */
  readonly name: string;
  /** Scene frame. */
  readonly first: number;
  /** The frame after the last: stretches are half-open. */
  readonly end: number;
}

export type PlanNote =
  | { readonly code: "step"; readonly step: number; readonly full: FrameSet }
  | { readonly code: "one-frame" }
  | { readonly code: "quick-shading"; readonly shading: Shading }
  | { readonly code: "scaled"; readonly scale: number; readonly width: number; readonly height: number }
  | { readonly code: "few-samples"; readonly samples: number }
  | { readonly code: "not-denoised"; readonly samples: number }
  | { readonly code: "other-rate"; readonly frames: number; readonly atOwnRate: number }
  /** The scene file was made for another rate than the plan takes it for. @property mend what puts it right */
  | {
      readonly code: "scene-rate";
      readonly scene: Rate;
      readonly taken: Rate;
      readonly mend: Pick<Plan, "timeLine" | "rate">;
    }
  | {
      readonly code: "odd-size";
      readonly width: number;
      readonly height: number;
      readonly mend: { readonly width: number; readonly height: number };
    }
  | {
      readonly code: "outside-time-line";
      readonly frames: FrameSet;
      readonly inside: FrameSet;
      /** Numbers of the time line's files. */
      readonly line: FrameSet;
    }
  | { readonly code: "marker-off"; readonly names: readonly string[] };

/** Below so many samples a final picture is mostly grain, denoised or not. */
const FEW_SAMPLES = 8;
/** Below so many, grain shows unless it is denoised. */
const CLEAN_SAMPLES = 256;

/** A phrase of one run with a step above 1 over all of its frames; null without one. */
const stepOf = (asked: FrameSet): number | null =>
  asked.runs.length === 1 && asked.runs[0]!.step > 1 && asked.count > 1 ? asked.runs[0]!.step : null;

/** The next even number: what encoders of video ask for. */
const even = (n: number): number => n + (n % 2);

/** The full size that gives even numbers at the plan's scale: the next larger one. */
function evenSize(width: number, height: number, scale: number): { width: number; height: number } {
  const grow = (side: number): number => {
    let next = side;
    while (Math.max(1, Math.round((next * scale) / 100)) % 2 !== 0) next++;
    return next;
  };
  return scale === 100
    ? { width: even(width), height: even(height) }
    : { width: grow(width), height: grow(height) };
}

/** What the samples mean for the grain; of a program of its own nobody here knows. */
function addGrainNote(notes: PlanNote[], plan: Plan): void {
  const { samples } = plan;
  if (isExternal(plan)) return;
  if (samples < FEW_SAMPLES) notes.push({ code: "few-samples", samples });
  else if (samples < CLEAN_SAMPLES && !plan.passes.includes("denoised") && plan.noiseTarget === null)
    notes.push({ code: "not-denoised", samples });
}

/**
 * @param sceneRate what the scene file says; null where nobody here can read it
 * @param purpose rough plans are meant to be quick: what is a leftover in a final one is right in them
 */
export function planNotes(
  { plan, asked }: ReadPlan,
  purpose: Purpose,
  markers: readonly Marker[],
  sceneRate: Rate | null,
): PlanNote[] {
  const notes: PlanNote[] = [];
  if (sceneRate !== null && !isSameRate(sceneRate, plan.timeLine.rate))
    notes.push({
      code: "scene-rate",
      scene: sceneRate,
      taken: plan.timeLine.rate,
      mend: {
        timeLine: { ...plan.timeLine, rate: sceneRate },
        // A rate of the plan's own stays: it is what somebody wants of the pictures.
        rate: isSameRate(plan.rate, plan.timeLine.rate) ? sceneRate : plan.rate,
      },
    });
  const outside = outsideTimeLine(asked, plan);
  if (outside.count > 0) {
    const { first, last } = { first: firstOf(asked)!, last: lastOf(asked)! };
    const line = numbersOfStretch(plan, plan.timeLine.first, plan.timeLine.last);
    notes.push({
      code: "outside-time-line",
      frames: outside,
      inside: intersection(line, rangeSet(first, last)),
      line,
    });
  }
  const off = plan.markersOff.filter((name) => markers.some((m) => m.name === name));
  if (off.length > 0) notes.push({ code: "marker-off", names: off });
  if (purpose === "final") {
    const step = stepOf(asked);
    const { first, last } = writtenRange(plan.frames) ?? { first: firstOf(asked)!, last: lastOf(asked)! };
    if (step !== null) notes.push({ code: "step", step, full: rangeSet(first, last) });
    if (asked.count === 1) notes.push({ code: "one-frame" });
    if (plan.shading !== "full") notes.push({ code: "quick-shading", shading: plan.shading });
    if (plan.scale !== 100) notes.push({ code: "scaled", scale: plan.scale, ...scaledSize(plan) });
    addGrainNote(notes, plan);
    if (!isSameRate(plan.rate, plan.timeLine.rate))
      notes.push({
        code: "other-rate",
        frames: asked.count,
        atOwnRate: retimedCount(asked.count, plan.rate, plan.timeLine.rate),
      });
  }
  const { width, height } = scaledSize(plan);
  if (width % 2 !== 0 || height % 2 !== 0)
    notes.push({ code: "odd-size", width, height, mend: evenSize(plan.width, plan.height, plan.scale) });
  return notes;
}
