/**
 * What one slot of a node takes from the queue: a frame at a time, out of a batch that is reserved
 * for it. Reserved frames still wait; a reservation only keeps the other nodes off for the time of a
 * lease, and is renewed with the lease of the frame in work. Each frame is leased when its turn
 * comes, so that stop, priority and taking over are the same with batches and without.
 */
import { countForShare, fairShare, type Pace, proposeBatch } from "@/core/run/batch";
import type { Pool, Tx } from "../db/pool";
import { row, rows, write, marks } from "../db/rows";
import type { Lease } from "./lease";
import { openQueue, type OpenRun } from "./open-runs";
import { mayTakeOf, type Taker, takersOfRun } from "./takers";
import { ALL, type Candidate, type Claimer, claimOf, claimReserved, type Reservation } from "./claim";

export interface NodeQueueOptions {
  /** Of a lease, and of the reservations behind it. */
  readonly leaseSeconds: number;
  /** Whether the node has proved that it can render frames of a run; asked before the first. */
  readonly isReady: (runId: number) => Promise<boolean>;
  /** What the slot has measured of a run; null before its first frame. */
  readonly paceOf: (runId: number) => Pace | null;
  /** Whether one call of the run's renderer makes several frames. */
  readonly takesSeveral: (runId: number) => Promise<boolean>;
}

/** What is left of a batch is given back when the node takes no more. */
export class NodeQueue {
  readonly #pool: Pool;
  readonly #node: Claimer;
  readonly #options: NodeQueueOptions;
  #reserved: readonly Reservation[] = [];

  constructor(pool: Pool, node: Claimer, options: NodeQueueOptions) {
    this.#pool = pool;
    this.#node = node;
    this.#options = options;
  }

  /** Frames that come next in this slot, in order. */
  get upcoming(): readonly Reservation[] {
    return this.#reserved;
  }

  /** Leases the next frame, or null when there is none for the node now. */
  async claim(): Promise<Lease | null> {
    const open = await openQueue(this.#pool);
    const runs: OpenRun[] = [];
    for (const run of open.runs) {
      if (mayTakeOf(open.takers, this.#node, run) && (await this.#options.isReady(run.id))) runs.push(run);
    }
    const [first] = this.#reserved;
    const own = runs.find((run) => run.id === first?.runId);
    // A proof, or a run of a higher priority, comes before the rest of the batch.
    if (own === undefined || own.limited !== null || runs.some((run) => run.rank > own.rank))
      await this.release();
    const next = await this.#claimReserved();
    return (
      next ??
      claimOf(this.#pool, this.#node, this.#options.leaseSeconds, open.takers, runs, (tx, found, run) =>
        this.#reserve(tx, found, run, takersOfRun(open.takers, run)),
      )
    );
  }

  /** The next of the batch that is still ours; what is not is forgotten. */
  async #claimReserved(): Promise<Lease | null> {
    for (let next = this.#reserved[0]; next !== undefined; next = this.#reserved[0]) {
      this.#reserved = this.#reserved.slice(1);
      const lease = await claimReserved(this.#pool, this.#node.id, next, this.#options.leaseSeconds);
      if (lease !== null) return lease;
    }
    return null;
  }

  /**
   * Keeps the frames behind a leased one for this slot. Inside the transaction that leases it. @returns
   * position of the last
   */
  async #reserve(tx: Tx, found: Candidate, run: OpenRun, takers: readonly Taker[]): Promise<number> {
    const until = run.litUntil ?? ALL;
    const pace = this.#options.paceOf(run.id);
    // Where only so many frames of a renderer may be in work, the place of each goes to whoever asks next.
    const wanted =
      run.limited !== null ? 1 : (run.batch ?? proposeBatch(pace, await this.#options.takesSeveral(run.id)));
    let size = wanted;
    if (wanted > 1 && run.batch === null) {
      const slots = takers.reduce((sum, t) => sum + t.cores, 0);
      const waiting = await row<{ n: number }>(
        tx,
        `SELECT COUNT(*) AS n
          FROM (
            SELECT 1
            FROM task
            WHERE run_id = ? AND state = 'waiting' AND position < ?
            LIMIT ?
          ) x`,
        [run.id, until, countForShare(wanted, slots)],
      );
      // With the one that is leased.
      size = fairShare(wanted, waiting!.n + 1, slots, pace);
    }
    const avoid = takers.length > 1 ? this.#node.id : 0;
    const kept =
      size <= 1
        ? []
        : await rows<Reservation & { readonly position: number }>(
            tx,
            `SELECT id, run_id AS runId, sequence_id AS sequenceId, frame, passes, position
              FROM task
              WHERE run_id = ?
                AND state = 'waiting'
                AND position > ?
                AND position < ?
                AND not_before <= NOW(6)
                AND (avoid_node_id IS NULL OR avoid_node_id <> ?)
              ORDER BY position
              LIMIT ?
              FOR UPDATE SKIP LOCKED`,
            [run.id, found.position, until, avoid, size - 1],
          );
    if (kept.length > 0)
      await write(
        tx,
        `UPDATE task
          SET reserved_node_id = ?, not_before = NOW(6) + INTERVAL ? SECOND
          WHERE id IN ${marks(kept)}`,
        [this.#node.id, this.#options.leaseSeconds, ...kept.map((k) => k.id)],
      );
    this.#reserved = kept;
    return kept.at(-1)?.position ?? found.position;
  }

  /** The batch goes on: its frames are kept for as long as the lease of the one in work. */
  async extend(): Promise<void> {
    await this.#setReserved("not_before = NOW(6) + INTERVAL ? SECOND", [this.#options.leaseSeconds]);
  }

  /** Lets the rest of the batch go to other nodes. */
  async release(): Promise<void> {
    if (this.#reserved.length === 0) return;
    await this.#setReserved("not_before = NOW(6), reserved_node_id = NULL", []);
    this.#reserved = [];
  }

  /** Only while they are still ours: a reservation that ran out belongs to others. */
  async #setReserved(set: string, params: readonly number[]): Promise<void> {
    if (this.#reserved.length === 0) return;
    const ids = this.#reserved.map((r) => r.id);
    await write(
      this.#pool,
      `UPDATE task
        SET ${set}
        WHERE id IN ${marks(ids)} AND state = 'waiting' AND reserved_node_id = ?`,
      [...params, ...ids, this.#node.id],
    );
  }
}
