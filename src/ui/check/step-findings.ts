/** Walking from finding to finding with [ and ]. Findings may come in any order and several of one frame. */
import { largest, least } from "@/core/many";

/**
 * The frame of the next finding in a direction, or null when there is none; without a place to start from,
 * the first or the last one.
 */
export function findingBeside(
  findings: readonly { readonly frame: number }[],
  frame: number | null,
  direction: 1 | -1,
): number | null {
  const beyond = findings.map((f) => f.frame).filter((f) => frame === null || (f - frame) * direction > 0);
  if (beyond.length === 0) return null;
  return direction === 1 ? least(beyond) : largest(beyond);
}
