/**
 * Which program renders: the stand-in that comes along, or one with a command line that the configuration
 * file declares under a name.
 */
import type { CheckpointRule } from "./checkpoint-rule";

/** Name of the renderer that comes along; no declaration may take it. */
export const STAND_IN = "stand-in";

/** What stands for the renderer of a version whose frames come from somewhere else; no declaration may take it. */
export const ELSEWHERE = "elsewhere";

/** Rendered by a program of its own. */
export const isExternal = (plan: { readonly renderer: string }): boolean => plan.renderer !== STAND_IN;

/** Whether what a frame has so far is saved. @param offer of its renderer: some keep nothing */
export const savesSamples = (
  plan: { readonly checkpoints: CheckpointRule },
  offer: { readonly keepsState: boolean },
): boolean => offer.keepsState && plan.checkpoints.kind !== "never";

/** What stands for a value in the arguments of a renderer with a command line. */
export const PLACEHOLDERS = [
  "scene",
  "frame",
  "frames",
  "first",
  "last",
  "camera",
  "width",
  "height",
  "samples",
  "seed",
  "output",
  "passes",
  "light",
] as const;
/** What may stand in braces in a renderer's arguments. */
export type Placeholder = (typeof PLACEHOLDERS)[number];
/** A value for each. */
export type ArgumentValues = Readonly<Record<Placeholder, string | number>>;
