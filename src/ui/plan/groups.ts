/** The groups of the plan: their fields, and what each says in a few words. */
import { fileText } from "@/core/image/file-format";
import type { ShotView } from "@/contract/shot-view";
import { parsePhrase } from "@/core/frames/phrase";
import { FILE_KIND_TEXT, SHADING_TEXT } from "../shot/plan-words";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import type { RendererOffer } from "@/core/plan/renderer-offer";
import { rateText } from "@/core/timing/rate";
import { frames } from "../words";

/**
 * Every field of the plan is in one group (a test holds that), so that a fault or a change can be said to lie
 * in one.
 */
export const GROUPS = [
  // What is watched is no plan of this bench; a fault in it is one of where frames come from.
  { name: "scene", title: "Scene", fields: ["scene", "renderer", "cameras", "watched"] },
  { name: "frames", title: "Frames", fields: ["frames", "offset", "rate", "markersOff", "timeLine"] },
  { name: "size", title: "Size", fields: ["width", "height", "scale", "pixelAspect"] },
  {
    name: "picture",
    title: "Picture",
    fields: ["shading", "filter", "shutter", "lens", "dither", "seed", "grain"],
  },
  {
    name: "quality",
    title: "Quality",
    fields: ["samples", "minSamples", "noiseTarget", "timeLimit", "sampling", "checkpoints", "keepSamples"],
  },
  { name: "options", title: "Renderer", fields: ["options"] },
  { name: "passes", title: "Passes", fields: ["passes"] },
  { name: "files", title: "Files", fields: ["file", "alpha", "channels", "namePattern", "digits"] },
  { name: "move", title: "Camera move", fields: ["move"] },
  { name: "presets", title: "Presets", fields: [] },
  { name: "revisions", title: "Versions", fields: [] },
] as const satisfies readonly {
  readonly name: string;
  readonly title: string;
  readonly fields: readonly (keyof Plan)[];
}[];

/** As the bench remembers which one is open. */
export type GroupName = (typeof GROUPS)[number]["name"];

/** Groups that say something to a renderer; what it does not offer is not there to be set. */
const IS_OFFERED: Readonly<Partial<Record<GroupName, (offer: RendererOffer) => boolean>>> = {
  picture: (offer) => offer.name === STAND_IN || offer.told.includes("seed"),
  quality: (offer) => offer.told.length > 0 || offer.keepsState,
  options: (offer) => offer.options.length > 0,
  passes: (offer) => offer.passes.length > 1,
  move: (offer) => offer.name === STAND_IN,
};

/** Groups of a plan: those that its renderer offers, and any with a fault, so that it can be mended. */
export const groupsShown = (offer: RendererOffer, faults: Readonly<Partial<Record<keyof Plan, string>>>) =>
  GROUPS.filter(
    ({ name, fields }) =>
      (IS_OFFERED[name]?.(offer) ?? true) || fields.some((field) => faults[field] !== undefined),
  );

/** What a closed group says: its values, in the width of a line. */
export function groupSummary(name: GroupName, plan: Plan, shot: ShotView): string {
  switch (name) {
    case "scene":
      return `${plan.cameras.join(", ")}`;
    case "frames": {
      const asked = parsePhrase(plan.frames);
      return `${asked.ok ? frames(asked.set.count) : ""} at ${rateText(plan.rate)}`;
    }
    case "size": {
      const { width, height } = scaledSize(plan);
      return `${width} x ${height}`;
    }
    case "picture":
      if (plan.renderer !== STAND_IN) return `seed ${plan.seed}`;
      return plan.shading !== "full"
        ? SHADING_TEXT[plan.shading]
        : `${plan.filter.kind} ${plan.filter.radius}`;
    case "quality":
      return `${plan.samples} samples`;
    case "options": {
      const set = Object.keys(plan.options).length;
      return set === 0 ? "as usual" : `${set} set`;
    }
    case "passes":
      return plan.passes.length === 1 ? "beauty" : `beauty and ${plan.passes.length - 1}`;
    case "files":
      return plan.file.kind === "foreign" ? fileText(plan.file) : FILE_KIND_TEXT[plan.file.kind];
    case "move":
      return plan.move === null
        ? "the scene's"
        : plan.move.kind === "turn"
          ? `${plan.move.degrees}° turn`
          : `path, ${plan.move.points.length} points`;
    case "presets":
      return "";
    case "revisions":
      return `revision ${shot.revision}`;
  }
}
