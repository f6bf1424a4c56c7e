/**
 * One named frame, made by a process that a batch system has started for it and that ends with it. The lease, its fence, the
 * proof that the files are seen and the checks are those of a node that stays; only who decides which frame is another.
 *
 *     frame waits --lease--> an attempt --over--> ends
 *     made, in work elsewhere, not wanted any more --> ends, with nothing done
 *     not yet (held, at a limit, resting) --> looks again
 */
import os from "node:os";
import { setTimeout as pause } from "node:timers/promises";
import { CLUSTER_ENDS } from "@/contract/cluster-faults";
import type { LogLevel } from "@/contract/log";
import type { TaskEndWhy } from "@/core/cluster/task-end";
import type { Pool } from "../db/pool";
import { type Engine, RenderFailed } from "../engines/engine";
import { LeaseLost, TallyError } from "../errors";
import { beginFollowing } from "../handover/follow";
import { claimNamed, type NamedFrame } from "../queue/claim";
import { type Lease, LEASE_SECONDS } from "../queue/lease";
import { closeEndedRuns } from "../queue/run-end";
import { openAsides } from "../store/asides";
import { saveArrayTask } from "../store/dispatches";
import { type NodeOrders, ordersOfNode, saveArrayNode, touchNode } from "../store/nodes";
import type { AttemptEnd } from "./attempt-end";
import type { NodeFaults } from "./faults";
import { requireHouseVersion } from "./house-version";
import { attemptLease } from "./leased-attempt";
import { RunReadiness } from "./run-readiness";
import { whileDatabaseAway } from "./while-away";

export interface ArrayTaskOptions {
  /** Of the node: all tasks of one machine share it. */
  readonly name: string;
  /** As the batch system calls it. */
  readonly machine: string;
  /** As the batch system names the task; null: a person has started it. */
  readonly arrayTask: string | null;
  readonly leaseSeconds?: number;
  readonly silenceSeconds?: number;
  readonly leastLimitSeconds?: number;
  readonly version: string;
  readonly faults: NodeFaults;
  readonly log: (level: LogLevel, text: string) => void;
}

/** What became of the frame, as far as this process is concerned. */
export type ArrayTaskEnd =
  | "made"
  | "failed"
  | "given-back"
  | "made-before"
  | "in-work"
  | "not-wanted"
  | "not-ready"
  | "set-aside"
  | "paused";

/** Between two looks whether the frame may be leased. */
const AGAIN_MS = 1_000;
/** Between two signs of life of the machine. */
const SIGN_MS = 2_000;

/** `run` makes its frame, if it is there to be made; `end` has it saved and given back. */
export class ArrayTask {
  readonly #pool: Pool;
  readonly #engine: Engine;
  readonly #options: ArrayTaskOptions;
  readonly #shutdown = new AbortController();
  #takenAway: TaskEndWhy | null = null;
  #askToStop: (() => void) | null = null;
  #orders: NodeOrders | null = null;

  constructor(pool: Pool, engine: Engine, options: ArrayTaskOptions) {
    this.#pool = pool;
    this.#engine = engine;
    this.#options = options;
  }

  /** @param why null: somebody took it back, which is no failure */
  end(why: TaskEndWhy | null): void {
    // What is told first came first; a task that is told to end after its time was up ended for its time.
    this.#takenAway ??= why;
    this.#shutdown.abort(new Error("ended"));
    this.#askToStop?.();
  }

  async run(frame: NamedFrame): Promise<ArrayTaskEnd> {
    const { name } = this.#options;
    await requireHouseVersion(this.#pool, this.#options);
    const machine = { name, host: os.hostname(), processors: os.availableParallelism(), pid: process.pid };
    const node = await saveArrayNode(this.#pool, machine, this.#options.machine);
    if (node === null) throw new TallyError("node-name-stays", { name });
    this.#orders = await ordersOfNode(this.#pool, node.id, node.session);
    const signs = this.#giveSigns(node.id, node.session);
    try {
      return await this.#make({ id: node.id, name }, frame);
    } finally {
      this.#shutdown.abort(new Error("over"));
      await signs;
      this.#engine.close();
    }
  }

  /** Shows the machine, and hears what is decided of it. Whether it is heard decides over nothing. */
  async #giveSigns(id: number, session: string): Promise<void> {
    while (!this.#shutdown.signal.aborted) {
      await touchNode(this.#pool, id, session, false).catch(() => false);
      this.#orders = (await ordersOfNode(this.#pool, id, session).catch(() => null)) ?? this.#orders;
      if (this.#orders !== null) this.#engine.setNice(this.#orders.nice);
      if (this.#mustLetGo) this.#askToStop?.();
      await pause(SIGN_MS, undefined, { signal: this.#shutdown.signal }).catch(() => undefined);
    }
  }

  get #mustLetGo(): boolean {
    return (
      this.#shutdown.signal.aborted || this.#orders?.pause === "now" || this.#orders?.housePause === "now"
    );
  }

  async #make(
    node: { readonly id: number; readonly name: string },
    frame: NamedFrame,
  ): Promise<ArrayTaskEnd> {
    const { faults, log } = this.#options;
    const readiness = new RunReadiness(this.#pool, faults, (text) => log("warning", text));
    if (await this.#isAside(node.id, frame.runId)) return "set-aside";
    // The batch system may have better use for its machine than to wait with us.
    if (this.#orders?.pause !== "no" || this.#orders.housePause !== "no") return "paused";
    if (!(await readiness.isReady(node, frame.runId))) return "not-ready";
    for (;;) {
      if (this.#shutdown.signal.aborted) return "given-back";
      const leased = await claimNamed(this.#pool, node, frame, this.#options.leaseSeconds);
      if (typeof leased !== "string") return this.#attempt(node, leased, readiness);
      if (leased === "made") return "made-before";
      if (leased === "in-work") return "in-work";
      if (leased === "over") return "not-wanted";
      await pause(AGAIN_MS, undefined, { signal: this.#shutdown.signal }).catch(() => undefined);
    }
  }

  async #isAside(id: number, runId: number): Promise<boolean> {
    const asides = await openAsides(this.#pool);
    return asides.some((a) => a.nodeId === id && (a.runId === null || a.runId === runId));
  }

  async #attempt(
    node: { readonly id: number; readonly name: string },
    lease: Lease,
    readiness: RunReadiness,
  ): Promise<ArrayTaskEnd> {
    const { name, arrayTask, faults, silenceSeconds, leastLimitSeconds, log } = this.#options;
    if (arrayTask !== null) await saveArrayTask(this.#pool, lease.attemptId, arrayTask);
    const end = await attemptLease(
      {
        pool: this.#pool,
        engine: this.#engine,
        leaseSeconds: this.#options.leaseSeconds ?? LEASE_SECONDS,
        count: 1,
        beatMs: () => SIGN_MS,
        ...{ name, faults, silenceSeconds, leastLimitSeconds, log },
        whileAway: (work) => whileDatabaseAway(work, log, this.#shutdown.signal),
        proveReady: (runId) => readiness.proveAgain(node, runId),
        memoryMb: () => this.#orders?.memoryMb ?? null,
        mustLetGo: () => this.#mustLetGo,
        onBusy: (askToStop) => (this.#askToStop = askToStop),
        extend: () => Promise.resolve(),
        upcomingOf: () => [],
        takenAway: () => (this.#takenAway === null ? null : new RenderFailed(CLUSTER_ENDS[this.#takenAway])),
      },
      lease,
    ).catch((error: unknown): AttemptEnd => {
      if (!(error instanceof LeaseLost)) throw error;
      return { kind: "given-back" };
    });
    await closeEndedRuns(this.#pool);
    await beginFollowing(this.#pool);
    return end.kind;
  }
}
