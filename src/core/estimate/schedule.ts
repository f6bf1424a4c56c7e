/**
 * When frames are done: a list schedule over nodes, each frame to the node that is free first.
 * A frame is never split and never moved once it has begun: what a queue of leases does, without its
 * pauses.
 */

export interface ScheduledWork {
  /** Seconds of each, in the order in which the queue gives them out. */
  readonly render: Float64Array;
  /** Seconds that each takes besides. */
  readonly aside: number;
}

/** Seconds until all is done; 0 for nothing.
 * @param speeds speed of each node that takes part; at least one
 */
export function schedule({ render, aside }: ScheduledWork, speeds: readonly number[]): number {
  const n = speeds.length;
  // A binary heap of nodes by the time at which they are free.
  const free = new Float64Array(n);
  const heap = Int32Array.from({ length: n }, (_, i) => i);
  let end = 0;
  for (let i = 0; i < render.length; i++) {
    const node = heap[0]!;
    free[node]! += (render[i]! + aside) / speeds[node]!;
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
