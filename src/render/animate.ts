/** Values over time: keys with easing, evaluated at any sub-frame time. */
import { isKeyed } from "@/contract/scene";
import type { Animated, Easing } from "@/core/plan/lens";

/** Of the way from one key to the next, 0 to 1. */
const EASE: Readonly<Record<Easing, (t: number) => number>> = {
  linear: (t) => t,
  smooth: (t) => t * t * (3 - 2 * t),
  hold: () => 0,
};

/** Numbers and vectors alike. */
const mix = <V>(a: V, b: V, t: number): V =>
  (typeof a === "number"
    ? a + ((b as number) - a) * t
    : (a as readonly number[]).map((x, i) => x + ((b as readonly number[])[i]! - x) * t)) as V;

/** Value at a time in frames. Before the first key and after the last one it stays. */
export function valueAt<V extends number | readonly number[]>(value: Animated<V>, frame: number): V {
  if (!isKeyed(value)) return value;
  const { keys } = value;
  const next = keys.findIndex((key) => key.frame > frame);
  if (next === 0) return keys[0]!.value;
  const from = next < 0 ? keys.at(-1)! : keys[next - 1]!;
  if (next < 0) return from.value;
  const to = keys[next]!;
  return mix(
    from.value,
    to.value,
    EASE[from.ease ?? "smooth"]((frame - from.frame) / (to.frame - from.frame)),
  );
}
