/** How fast somebody may ask: a bucket each, which fills by the clock. So many are kept as there may be people. */

interface Bucket {
  left: number;
  at: number;
}

export interface Pace {
  /** Requests at once, and what comes back each second. */
  readonly burst: number;
  readonly aSecond: number;
}

const MOST_BUCKETS = 1_000;

export class RequestPace {
  readonly #buckets = new Map<string, Bucket>();
  readonly #pace: Pace;

  constructor(pace: Pace) {
    this.#pace = pace;
  }

  /** Whether one more is allowed. @param nowMs of a clock that never goes back */
  allows(who: string, nowMs: number): boolean {
    const { burst, aSecond } = this.#pace;
    const known = this.#buckets.get(who);
    const left =
      known === undefined ? burst : Math.min(burst, known.left + ((nowMs - known.at) / 1000) * aSecond);
    // The one that asked longest ago is the first.
    this.#buckets.delete(who);
    const [oldest] = this.#buckets.keys();
    if (this.#buckets.size >= MOST_BUCKETS && oldest !== undefined) this.#buckets.delete(oldest);
    this.#buckets.set(who, { left: left >= 1 ? left - 1 : left, at: nowMs });
    return left >= 1;
  }
}
