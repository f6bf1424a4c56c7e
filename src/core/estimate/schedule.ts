/** When frames are done: a list schedule over nodes, each frame to the node that is free first. */
import type { FrameCosts } from "./cost-model";

/** Seconds until all frames are done. The frames go in their order, as the queue gives them out.
 * @param speeds speed of each node that takes part; at least one
 */
export function schedule(costs: FrameCosts, speeds: readonly number[]): number {
  const aside = costs.startup + costs.denoise + costs.write;
  const n = speeds.length;
  // A binary heap of nodes by the time at which they are free.
  const free = new Float64Array(n);
  const heap = Int32Array.from({ length: n }, (_, i) => i);
  let end = 0;
  for (let i = 0; i < costs.render.length; i++) {
    const node = heap[0]!;
    free[node]! += (costs.render[i]! + aside) / speeds[node]!;
    if (free[node]! > end) end = free[node]!;
    let at = 0;
    for (;;) {
      const left = 2 * at + 1;
      if (left >= n) break;
      const right = left + 1;
      const child = right < n && free[heap[right]!]! < free[heap[left]!]! ? right : left;
      if (free[heap[child]!]! >= free[heap[at]!]!) break;
      const moved = heap[at]!;
      heap[at] = heap[child]!;
      heap[child] = moved;
      at = child;
    }
  }
  return end;
}
