/**
 * What a renderer offers to a plan: its passes, its options, what of a plan's own settings reaches it, and
 * whether it keeps what a frame has so far. Plan shows this and nothing else, and a plan that asks for more is
 * refused. Of the stand-in it is fixed here; of another one it follows from its declaration.
 */
import type { OptionValue } from "./option-value";
import type { Pass } from "./passes";
import { PASSES, STAND_IN_PASSES } from "./passes";
import type { Plan, PlanFault } from "./plan";
import { ELSEWHERE, STAND_IN } from "./renderer";

/** What an option may be. */
export type OptionKind =
  | {
      readonly type: "number";
      readonly minimum: number;
      readonly maximum: number;
      readonly isWhole: boolean;
    }
  | {
      readonly type: "choice";
      readonly choices: readonly { readonly value: string; readonly label: string }[];
    }
  | { readonly type: "switch" }
  | { readonly type: "text"; readonly longest: number };

export interface RendererOption {
  /** As the plan and the command line name it. */
  readonly name: string;
  readonly label: string;
  /** What it means, in a line; null: the label says it all. */
  readonly hint: string | null;
  readonly kind: OptionKind;
  /** Where a plan says nothing; null: then the renderer is told nothing of it. */
  readonly usual: OptionValue | null;
}

/**
 * Settings of every plan that a renderer may or may not be told. The limits say how much is done: another
 * value makes no frame out of date. Options of its own always do.
 */
export const TOLD_SETTINGS = ["samples", "seed", "timeLimit", "noiseTarget"] as const;
export type ToldSetting = (typeof TOLD_SETTINGS)[number];

export interface RendererOffer {
  readonly name: string;
  /** The beauty first. */
  readonly passes: readonly Pass[];
  readonly options: readonly RendererOption[];
  readonly told: readonly ToldSetting[];
  /** What a frame has so far can be saved, gone on from and added to. */
  readonly keepsState: boolean;
  /** Frames from one gathered light to the next; null: it gathers none, or the scene says. */
  readonly lightEvery: number | null;
}

/** The renderer that comes along: its settings are the plan's own. */
export const STAND_IN_OFFER: RendererOffer = {
  name: STAND_IN,
  passes: STAND_IN_PASSES,
  options: [],
  told: TOLD_SETTINGS,
  keepsState: true,
  lightEvery: null,
};

/** What is wrong with the value of an option, as a sentence that begins with its label; null for a good one. */
export function optionFault({ label, kind }: RendererOption, value: OptionValue): string | null {
  switch (kind.type) {
    case "number":
      return typeof value === "number" &&
        value >= kind.minimum &&
        value <= kind.maximum &&
        (!kind.isWhole || Number.isInteger(value))
        ? null
        : `${label} must be a${kind.isWhole ? " whole" : ""} number from ${kind.minimum} to ${kind.maximum}; it is ${Number.isNaN(value) ? "blank" : String(value)}.`;
    case "choice":
      return kind.choices.some((c) => c.value === value)
        ? null
        : `${label} must be one of ${kind.choices.map((c) => c.value).join(", ")}; it is "${String(value)}".`;
    case "switch":
      return typeof value === "boolean" ? null : `${label} is on or off: true or false.`;
    case "text":
      return typeof value === "string" && value.length <= kind.longest
        ? null
        : `${label} may have ${kind.longest} characters at most.`;
  }
}

/**
 * What a plan may choose from when its renderer is not declared any more: the beauty, and nothing of its own.
 * The save is refused, as it is nowhere to be had.
 */
const goneOffer = (name: string): RendererOffer => ({
  name,
  passes: ["beauty"],
  options: [],
  told: TOLD_SETTINGS,
  keepsState: false,
  lightEvery: null,
});

/** Something else renders: any pass may come from there, and it is told nothing. */
const ELSEWHERE_OFFER: RendererOffer = {
  name: ELSEWHERE,
  passes: PASSES,
  options: [],
  told: [],
  keepsState: false,
  lightEvery: null,
};

/** The offer of a plan's renderer among those that there are. */
export const offerAmong = (offers: readonly RendererOffer[], renderer: string): RendererOffer =>
  renderer === ELSEWHERE
    ? ELSEWHERE_OFFER
    : (offers.find((offer) => offer.name === renderer) ?? goneOffer(renderer));

/** Code of the fault of an option: by it the field that shows the option finds its own. */
export const optionFaultCode = (name: string): string => `plan-option-${name}`;

/** What a plan asks of its renderer that this one does not offer. */
export function offerFaults(plan: Plan, offer: RendererOffer): PlanFault[] {
  const faults: PlanFault[] = [];
  const refuse = (field: keyof Plan, code: string, message: string): void =>
    void faults.push({ field, code, message });
  const missing = plan.passes.filter((pass) => !offer.passes.includes(pass));
  if (missing.length > 0)
    refuse(
      "passes",
      "plan-passes",
      `The renderer ${offer.name} writes no ${missing.join(", ")}; it writes ${offer.passes.join(", ")}.`,
    );
  for (const [name, value] of Object.entries(plan.options)) {
    const option = offer.options.find((o) => o.name === name);
    const fault =
      option === undefined
        ? `The renderer ${offer.name} has no option "${name}"${offer.options.length === 0 ? "" : `; it has ${offer.options.map((o) => o.name).join(", ")}`}.`
        : optionFault(option, value);
    if (fault !== null) refuse("options", optionFaultCode(name), fault);
  }
  if (plan.keepSamples && !offer.keepsState)
    refuse(
      "keepSamples",
      "plan-keepSamples",
      `The renderer ${offer.name} keeps nothing that more could be added to.`,
    );
  for (const field of ["timeLimit", "noiseTarget"] as const)
    if (plan[field] !== null && !offer.told.includes(field))
      refuse(
        field,
        `plan-${field}`,
        `The renderer ${offer.name} is not told of a ${field === "timeLimit" ? "time limit" : "noise target"}: leave it out.`,
      );
  return faults;
}

/**
 * A plan that another renderer is to make: what the new one does not offer goes back to what is usual, and the
 * rest stays. @returns the settings that change
 */
export function forOffer(plan: Plan, offer: RendererOffer): Partial<Plan> {
  return {
    renderer: offer.name,
    options: {},
    passes: plan.passes.filter((pass) => offer.passes.includes(pass)),
    ...(offer.keepsState ? {} : { keepSamples: false }),
    ...(offer.told.includes("timeLimit") ? {} : { timeLimit: null }),
    ...(offer.told.includes("noiseTarget") ? {} : { noiseTarget: null }),
    ...(offer.name === STAND_IN ? {} : { move: null, sampling: "rounds" as const }),
  };
}

/** An option with one value more, or without: what is usual is not written down. */
export function withOption(
  options: Plan["options"],
  { name, usual }: RendererOption,
  value: OptionValue | null,
): Plan["options"] {
  const { [name]: _before, ...others } = options;
  return value === null || value === usual ? others : { ...others, [name]: value };
}
