/** Which nodes a patch is kept from: those that made what is wrong would make it so again. */
import type { FrameSet } from "../frames/frame-set";
import type { PlanFault } from "../plan/against-plan";
import { type Factor, SELDOM, sharedCauses } from "../odd/shared-cause";

/** Fewer bad frames say nothing of who made them. */
const LEAST_BAD = 2;

/** Against the plan: what the renderer was told, or took for granted. */
const OF_RENDERER: ReadonlySet<string> = new Set<PlanFault>([
  "other-size",
  "other-depth",
  "other-channels",
  "other-compression",
  "other-colours",
]);

/** Whether a finding says something of who rendered the frame: that a file is cut short does not. */
export const saysOfRenderer = ({
  source,
  code,
}: {
  readonly source: string;
  readonly code: string;
}): boolean => source !== "check" || OF_RENDERER.has(code);

export interface LeftOut {
  readonly node: string;
  /** Of all bad frames whose maker is known, how many it made. */
  readonly bad: number;
  readonly of: number;
}

/**
 * @param bad frames whose picture is wrong: what is merely cut short or gone says nothing of a renderer
 * @param all frames that have a file
 * @param groups frames of each node
 * @param awake names of the nodes that would take part
 * @returns those that made all of the bad ones, or more of them than chance would give; none where nobody else is awake
 */
export function leftOut(
  bad: FrameSet,
  all: FrameSet,
  groups: Factor["groups"],
  awake: readonly string[],
): readonly LeftOut[] {
  const causes = sharedCauses(bad, all, [{ name: "node", verb: "came from", groups }]);
  const known = causes.reduce((sum, cause) => sum + cause.bad, 0);
  if (known < LEAST_BAD) return [];
  const suspects = causes.filter((cause) => cause.bad === known || cause.chance < SELDOM);
  const names = new Set(suspects.map(({ value }) => value));
  return awake.some((name) => !names.has(name))
    ? suspects.map(({ value, bad: own }) => ({ node: value, bad: own, of: known }))
    : [];
}
