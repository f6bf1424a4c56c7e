/**
 * Texts of the Run and Patch benches.
 * Policies, orders, reasons and preflight points are data in core and contract; what they are called stands
 * here once, for the benches, the strip and the message at the end. Sentences say what happens if nothing
 * is done.
 */
import { groupOfMark } from "@/core/run/who-takes";
import type { ResumeBar } from "@/core/run/checkpoint";
import type { Priority } from "@/contract/run-manner";
import type { RunOrder } from "@/core/run/run-order";
import type { PreflightPoint } from "@/core/run/preflight";
import type { FrameReason, Policy } from "@/core/run/what-to-render";
import type { Plan } from "@/core/plan/plan";
import { FIELD_WORD, valueText } from "../shot/plan-words";
import { shorten } from "@/core/frames/phrase";
import { count, duration, frames, listed, size } from "../words";
import type { RunView } from "@/contract/run-view";

/** As choices under "Of these, render"; each begins where the one before ends. */
export const POLICY_TEXT: Readonly<Record<Policy, string>> = {
  fill: "Only what is missing or failed",
  mend: "That, and what is flagged or out of date",
  all: "Every frame again, also the good ones",
  refine: "What is missing, and more samples for those that hold too few",
};

/** In the middle of a sentence: "Goes first to last, at once". */
export const ORDER_TEXT: Readonly<Record<RunOrder, string>> = {
  "first-to-last": "first to last",
  "coarse-to-fine": "coarse to fine: every 16th, 8th …",
  "ends-first": "from both ends inwards",
  "as-written": "as the phrase says",
};

/** Against other runs, not as a number: three steps are all that a person tells apart. */
export const PRIORITY_TEXT: Readonly<Record<Priority, string>> = {
  1: "before other runs",
  0: "beside other runs",
  [-1]: "when no other waits",
};

/** What took as long as was said, to a tenth, is not worth a figure. */
const AS_SAID = 0.1;

/** Within a tenth it is as it was said: more would claim an exactness that no estimate has. */
export function againstEstimate(seconds: number, estimated: number): string {
  const off = seconds / estimated - 1;
  return `; estimated ${duration(estimated)}${Math.abs(off) <= AS_SAID ? ", as it was" : `, ${Math.round(Math.abs(off) * 100)} % ${off > 0 ? "more" : "less"}`}`;
}

/** What a run came to, for a message outside the page. */
export const runEndText = ({
  state,
  done,
  failed,
  left,
}: Pick<RunView, "state" | "done" | "failed" | "left">): string =>
  [
    state === "done" ? `Done: ${frames(done)} made` : `Stopped: ${frames(done)} made`,
    ...(left > 0 ? [`${count(left)} left`] : []),
    ...(failed > 0 ? [`${count(failed)} set aside`] : []),
  ].join(", ");

/** Doubling: what lies between makes no difference that one would feel. */
const BATCHES = [1, 2, 4, 8, 16, 32];
/** How many frames a node takes at once. */
export const batchText = (batch: number | null): string =>
  batch === null ? "in batches as start-up asks" : batch === 1 ? "one by one" : `${batch} at once`;
/** With the one that the run has, whatever it is: the field never shows another than what goes. */
export const batchOptions = (batch: number | null): readonly (readonly [string, string])[] =>
  [null, ...BATCHES, ...(batch === null || BATCHES.includes(batch) ? [] : [batch])].map((b) => [
    b === null ? "" : String(b),
    batchText(b),
  ]);

/** Behind a count: "12 missing". */
export const RENDER_TEXT: Readonly<Record<FrameReason, string>> = {
  missing: "missing",
  failed: "failed before",
  partial: "begun, not finished",
  flagged: "flagged; the old file is kept aside",
  stale: "made with another look; the old file is kept aside",
  good: "good, rendered again; the old file is kept aside",
  "few-samples": "good, refined; the old file is there until the new one is whole",
  unchecked: "not looked at yet, rendered again",
  "in-a-run": "",
};

/** Behind a count, for frames that are left as they are; blank where a reason never keeps one. */
export const KEEP_TEXT: Readonly<Record<FrameReason, string>> = {
  good: "good",
  "few-samples": "",
  flagged: "flagged, but this choice leaves it",
  stale: "out of date, but this choice leaves it",
  unchecked: "not looked at yet: checked first, then decided",
  "in-a-run": "a run has it already",
  missing: "",
  failed: "",
  partial: "",
};

/** A setting of a checkpoint may be none of the plan's. */
const settingWord = (setting: string): string =>
  setting in FIELD_WORD ? FIELD_WORD[setting as keyof Plan] : setting;
/** A hash tells a person nothing. */
const NAMED_ONLY: Readonly<Record<string, string>> = {
  scene: "the scene file",
  files: "a file that the scene uses",
  engine: "the renderer",
  time: "the frame's time",
  move: "the camera move",
};

/** What keeps a render from going on with saved samples. */
export function barText(bar: ResumeBar): string {
  if (bar.code === "sums-not-kept") return "a pass or alpha was added that needs what was not kept";
  const changes = bar.changes.map(({ setting, before, after }) =>
    NAMED_ONLY[setting] !== undefined
      ? `${NAMED_ONLY[setting]} is another one`
      : `${settingWord(setting)} was ${valueText(before)} and is ${valueText(after)} now`,
  );
  return `${changes.join(", ")}${bar.code === "tiles-are-final" ? "; sampled tile by tile, nothing may change" : ""}`;
}

/** Points whose words are not those of the Plan bench. */
type OwnPoint = Exclude<PreflightPoint, { readonly code: "note" | "hazard" }>;

/** What happens if nothing is done. Notes and name hazards have their texts in the Plan bench. */
export function pointText(point: OwnPoint): string {
  switch (point.code) {
    case "no-node":
      return "No node is at work: the frames wait until one starts.";
    case "node-silent":
      if (groupOfMark(point.node) !== null)
        return `Nobody who is in ${groupOfMark(point.node)!} is at work: the frames wait until a node is.`;
      return `${point.node} did not answer: if it comes back, it may lack files.`;
    case "node-cannot-write":
      return `${point.node} cannot write there (${point.reason}): each of its frames would fail.`;
    case "node-lacks-files":
      return `${point.node} does not see ${point.files.join(", ")}: its frames would be wrong.`;
    case "node-sees-other-files":
      return `${point.node} sees other bytes in ${point.files.join(", ")}: its frames would differ from the rest.`;
    case "node-lacks-renderer":
      return `${point.node} cannot render it: ${point.reasons.join("; ")}.`;
    case "scene-unreadable":
      return `The scene cannot be rendered: ${point.reason}`;
    case "camera-missing":
      return `The scene has no camera ${point.cameras.join(", ")} any more; it has ${point.known.join(", ")}.`;
    case "space-short":
      return `The frames need about ${size(point.need)}, and ${size(point.free)} are free: the disk would be full on the way.`;
    case "nothing-to-render":
      return "Nothing of this needs rendering.";
    case "foreign-files":
      return `${point.folder} holds another sequence too: ${point.names.join(", ")}. Whoever imports the folder gets both.`;
    case "leftovers":
      return `${count(point.files.length)} temporary ${point.files.length === 1 ? "file is" : "files are"} left of attempts that did not end.`;
    case "frames":
      return point.replaceGood > 0
        ? `${frames(point.replaceGood)} that are good would be rendered again; the old files are kept aside.`
        : `${frames(point.render)} to render${point.pictures === point.render ? "" : `, ${count(point.pictures)} pictures`}; ${count(point.keep)} kept`;
    case "nodes-ready":
      return `${point.nodes.join(", ")} can write and ${point.nodes.length === 1 ? "sees" : "see"} ${count(point.files)} ${point.files === 1 ? "file" : "files"} with the same bytes`;
    case "space":
      return `about ${size(point.need)} needed, ${size(point.free)} free`;
    case "goes-on":
      return `${frames(point.frames)} ${point.frames === 1 ? "goes" : "go"} on from saved samples`;
    case "starts-over":
      return `${frames(point.count)} (${shorten(point.frames)}) ${point.count === 1 ? "has" : "have"} samples saved that cannot be used: ${barText(point.bar)}. ${point.count === 1 ? "It starts" : "They start"} over.`;
    case "same-again":
      return `${frames(point.count)} (${shorten(point.frames)}) ${point.count === 1 ? "was" : "were"} rejected as ${listed(point.reasons.map((r) => `“${shorten(r)}”`))}, and nothing that decides the picture has changed: ${point.isStandIn ? "this makes the same one again" : `this makes the same one again, unless ${point.nodes.length === 0 ? "its machine" : listed(point.nodes)} was at fault`}. Change the samples, the seed, denoising or the scene first.`;
    case "refines-afresh":
      return `${frames(point.count)} (${shorten(point.frames)}) ${point.count === 1 ? "has" : "have"} no samples kept and ${point.count === 1 ? "starts" : "start"} over${point.seconds === null ? "" : `: about ${duration(point.seconds)} on one node`}.${point.keepsSamples ? " The plan keeps samples by now: the next refining goes on from these." : " Keep samples, and the next refining goes on from these."}`;
    case "versions":
      return point.versions.map((v) => `${v.version}: ${frames(v.count)}`).join(", ");
    case "lighting":
      return `${point.make === 0 ? "the gathered light is there" : `the light is gathered first, at ${frames(point.make)}`}${point.unfit > 0 ? `, ${count(point.unfit)} of them anew because it was made from another scene or plan` : ""}${point.make > 0 && point.there > 0 ? `; at ${count(point.there)} it is there` : ""}`;
    case "writes-no-pictures":
      return "The scene says lighting.only: it would gather its light and write no pictures. Take that out of the scene file.";
    case "names":
      return "names";
    case "passes":
      return `${point.cameras.length === 1 ? "camera" : "cameras"} ${point.cameras.join(", ")}, ${point.passes.join(", ")}`;
  }
}

/** What was looked at and is in order, as one line. */
export const finePoints = (points: readonly PreflightPoint[]): string[] =>
  points.flatMap((point) => (point.code === "note" || point.code === "hazard" ? [] : [pointText(point)]));
