/**
 * Which program renders: the stand-in that comes along, or one with a command line that the configuration
 * file declares under a name.
 */
import type { CheckpointRule } from "./checkpoint-rule";

/** Name of the renderer that comes along; no declaration may take it. */
export const STAND_IN = "stand-in";

/** Rendered by a program of its own, which knows neither samples that are saved nor passes. */
export const isExternal = (plan: { readonly renderer: string }): boolean => plan.renderer !== STAND_IN;

/** Whether what a frame has so far can be saved. */
export const savesSamples = (plan: {
  /** Programs of their own save none. */
  readonly renderer: string;
  readonly checkpoints: CheckpointRule;
}): boolean => !isExternal(plan) && plan.checkpoints.kind !== "never";

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
] as const;
/** What may stand in braces in a renderer's arguments. */
export type Placeholder = (typeof PLACEHOLDERS)[number];
/** A value for each. */
export type ArgumentValues = Readonly<Record<Placeholder, string | number>>;
