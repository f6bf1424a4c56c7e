/**
 * The render node: leases a frame, attempts it, and so on.
 *
 *     idle --claim--> an attempt (frame-attempt) --over--> idle
 *     idle --shutdown--> marked stopped
 *     attempt --shutdown, run stopped now--> samples saved, frame given back
 *
 * It measures its own lease on a monotonic clock; whether the lease holds is the database's word.
 */
import crypto from "node:crypto";
import os from "node:os";
import { setTimeout as pause } from "node:timers/promises";
import { isDatabaseAway, type Pool, transact } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import type { Engine, LogLevel } from "../engines/engine";
import { claim, describeLease, type Lease, LEASE_SECONDS, renew, settleRuns } from "../queue/lease";
import { appendEvent } from "../store/events";
import { lockNode, markNodeStopped, saveNode, touchNode } from "../store/nodes";
import { savePreview } from "../store/previews";
import type { NodeFaults } from "./faults";
import { type AttemptHost, attemptFrame } from "./frame-attempt";
import { answerQuestions } from "./readiness";

export interface NodeOptions {
  readonly name: string;
  readonly leaseSeconds?: number;
  readonly faults: NodeFaults;
  readonly log: (level: LogLevel, text: string) => void;
}

/** Progress is told this often; a stop at once is heard as fast. */
const BEAT_MS = 700;
/** Between two looks for work, when there was none. */
const IDLE_MS = 400;
/** Before the database is tried again after it went away. */
const AWAY_MS = 1_000;

/** How long a renderer may take to save what it has. A checkpoint of a large picture with all passes is a few hundred megabytes. */
const STOP_GRACE_MS = 20_000;

const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
};

export class RenderNode {
  readonly #pool: Pool;
  readonly #engine: Engine;
  readonly #options: NodeOptions;
  readonly #leaseSeconds: number;
  readonly #session = crypto.randomUUID();
  readonly #shutdown = new AbortController();
  #id = 0;
  #frames = 0;
  #answeredAt = 0;

  constructor(pool: Pool, engine: Engine, options: NodeOptions) {
    this.#pool = pool;
    this.#engine = engine;
    this.#options = options;
    this.#leaseSeconds = options.leaseSeconds ?? LEASE_SECONDS;
  }

  /** Ends the node: the running frame goes back into the queue, with its samples saved. */
  stop(): void {
    this.#shutdown.abort(new Error("shutdown"));
  }

  /** Works until `stop`. */
  async run(): Promise<void> {
    await this.#whileAway(() => this.#register());
    this.#options.log("info", "ready");
    while (!this.#isStopping) {
      try {
        if (!(await touchNode(this.#pool, this.#id, this.#session))) throw new TallyError("node-replaced", `Another process works as ${this.#options.name} now.`);
        await this.#answer();
        const lease = await claim(this.#pool, { id: this.#id, name: this.#options.name }, this.#leaseSeconds);
        if (lease === null) {
          await settleRuns(this.#pool);
          await this.#rest(IDLE_MS);
        } else {
          await this.#work(lease);
        }
      } catch (error) {
        if (!isDatabaseAway(error)) throw error;
        this.#options.log("warning", `the database is away (${(error as Error).message}); trying again`);
        await this.#rest(AWAY_MS);
      }
    }
    this.#engine.close();
    await markNodeStopped(this.#pool, this.#id, this.#session).catch(() => undefined);
  }

  /** Answers what the server asks before a run: between frames, while one renders, and while there is none; looked for at most once a beat. */
  async #answer(): Promise<void> {
    if (performance.now() - this.#answeredAt < BEAT_MS / 2) return;
    this.#answeredAt = performance.now();
    await answerQuestions(this.#pool, { id: this.#id, name: this.#options.name }, this.#options.faults);
  }

  get #isStopping(): boolean {
    return this.#shutdown.signal.aborted;
  }

  async #rest(ms: number): Promise<void> {
    await pause(ms, undefined, { signal: this.#shutdown.signal }).catch(() => undefined);
  }

  async #whileAway(work: () => Promise<void>): Promise<void> {
    while (!this.#isStopping) {
      try {
        return await work();
      } catch (error) {
        if (!isDatabaseAway(error)) throw error;
        this.#options.log("warning", `the database is away (${(error as Error).message}); trying again`);
        await this.#rest(AWAY_MS);
      }
    }
  }

  /** Takes the name, unless a living process holds it. */
  async #register(): Promise<void> {
    const { name } = this.#options;
    this.#id = await transact(async (tx) => {
      const holder = await lockNode(tx, name);
      const holds = holder !== null && !holder.stopped && holder.pid !== process.pid && (holder.host === os.hostname() ? isAlive(holder.pid) : holder.secondsSinceSeen < this.#leaseSeconds);
      if (holds) throw new TallyError("node-name-taken", `A node named ${name} works already (process ${holder.pid} on ${holder.host}); choose another name or end it first.`);
      const id = await saveNode(tx, { name, host: os.hostname(), pid: process.pid, session: this.#session });
      await appendEvent(tx, "node");
      return id;
    }, this.#pool);
  }

  async #work(lease: Lease): Promise<void> {
    const frame = await describeLease(this.#pool, lease);
    this.#frames++;
    const abort = new AbortController();
    const stop = new AbortController();
    let grace: NodeJS.Timeout | undefined;
    // Saving what there is takes a moment; a renderer that does not come to an end is killed.
    const askToStop = (): void => {
      stop.abort();
      grace ??= setTimeout(() => abort.abort(new Error("stop")), STOP_GRACE_MS);
    };
    this.#shutdown.signal.addEventListener("abort", askToStop);
    if (this.#isStopping) askToStop();
    let share = 0;
    let preview: Uint8Array | null = null;
    let leaseEnds = performance.now() + this.#leaseSeconds * 1000;
    const beats = (async (): Promise<void> => {
      while (!abort.signal.aborted) {
        await pause(Math.min(BEAT_MS, (this.#leaseSeconds * 1000) / 4), undefined, { signal: abort.signal }).catch(() => undefined);
        if (abort.signal.aborted) return;
        try {
          const asked = performance.now();
          const state = await renew(this.#pool, lease, share, this.#leaseSeconds);
          await touchNode(this.#pool, this.#id, this.#session);
          leaseEnds = asked + this.#leaseSeconds * 1000;
          if (preview !== null) await savePreview(this.#pool, lease, preview);
          preview = null;
          await this.#answer();
          if (state === "halting") askToStop();
          else if (state === "stopped" || state === "done") abort.abort(new LeaseLost());
        } catch (error) {
          if (error instanceof LeaseLost) abort.abort(error);
          else if (!isDatabaseAway(error)) abort.abort(error);
          // The database is away: the frame goes on as long as the lease can still be ours.
          else if (performance.now() > leaseEnds) abort.abort(new LeaseLost());
        }
      }
    })();
    const host: AttemptHost = {
      pool: this.#pool, engine: this.#engine, name: this.#options.name, faults: this.#options.faults, count: this.#frames, log: this.#options.log,
      whileAway: (work) => this.#whileAway(work), onProgress: (s) => (share = s), onPreview: (jpeg) => (preview = jpeg),
    };
    try {
      await attemptFrame(host, frame, { abort: abort.signal, stop: stop.signal });
    } finally {
      clearTimeout(grace);
      this.#shutdown.signal.removeEventListener("abort", askToStop);
      abort.abort(new LeaseLost());
      await beats;
    }
  }
}
