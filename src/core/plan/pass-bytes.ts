/**
 * What a pass takes in a file, by format and size alone.
 * Guesses, before a file was measured: from how rendered pictures compress on average. Whoever has measured
 * files uses those.
 */
import { guessBytes } from "../image/file-format";
import type { Channels } from "../image/pixels";
import { becomesGrey, isGreyPass, bearsAlpha, type Pass } from "./passes";
import { scaledSize } from "./picture";
import type { Plan } from "./plan";

/** Channels that a pass has in a file. */
export const channelsOf = (plan: Plan, pass: Pass): Channels =>
  isGreyPass(pass)
    ? 1
    : plan.alpha !== "none" && bearsAlpha(pass)
      ? plan.channels === "grey"
        ? 2
        : 4
      : plan.channels === "grey" && becomesGrey(pass)
        ? 1
        : 3;

/** Bytes a frame of a pass, from format and size alone. */
export function guessPassBytes(plan: Plan, pass: Pass): number {
  const { width, height } = scaledSize(plan);
  return guessBytes(plan.file, width * height, channelsOf(plan, pass));
}
