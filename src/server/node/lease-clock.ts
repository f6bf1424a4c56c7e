/**
 * When a lease is over by the node's own clock: a link that swallows everything tells nothing, and what there is
 * must be saved while it is still worth something. The clock is that of the machine's start: unlike the one that
 * timers go by, it goes on while the machine is suspended, as the database's does.
 */
import os from "node:os";

/** Seconds since the machine was started, sleep and all. */
export const machineSeconds = (): number => os.uptime();

/** Asked with the time at hand: it has no timer of its own, which a sleep would hold up. */
export class LeaseClock {
  readonly #leaseSeconds: number;
  #until: number;

  /** @param now by `machineSeconds`, before the lease was asked for */
  constructor(leaseSeconds: number, now: number) {
    this.#leaseSeconds = leaseSeconds;
    this.#until = now + leaseSeconds;
  }

  /**
   * The database has taken a heartbeat, at some time between these two. The later one counts: to stop too early
   * costs work, and too late nothing, since the database has the last word. But for an answer that lay there
   * while the machine slept: it says nothing of now.
   */
  renewed(sentAt: number, answeredAt: number): void {
    if (answeredAt - sentAt < this.#leaseSeconds) this.#until = answeredAt + this.#leaseSeconds;
  }

  isOver(now: number): boolean {
    return now >= this.#until;
  }
}
