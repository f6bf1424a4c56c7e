/**
 * The render node: as many slots as it may use cores, each of which leases a frame, attempts it, and so on.
 *
 *     idle --claim--> an attempt (frame-attempt) --over--> idle
 *     idle --shutdown--> marked stopped
 * attempt --shutdown, run stopped now, node paused now, out of hours, frame put back--> samples saved, frame
 * given back
 *
 * It measures its own lease on a monotonic clock; whether the lease holds is the database's word.
 */
import crypto from "node:crypto";
import os from "node:os";
import { setTimeout as pause } from "node:timers/promises";
import { USUAL_SETTINGS } from "@/contract/node-settings";
import type { Pace } from "@/core/run/batch";
import { passBits } from "@/core/plan/passes";
import { isWithinHours } from "@/core/timing/hours";
import { type Pool, transact } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import { type Engine } from "../engines/engine";
import { LEASE_SECONDS } from "../queue/lease";
import { NodeQueue } from "../queue/node-queue";
import { beginFollowing } from "../handover/follow";
import { forgetOpenQueue } from "../queue/open-runs";
import { closeEndedRuns } from "../queue/run-end";
import { appendEvent } from "../store/events";
import {
  lockNode,
  markNodeStopped,
  nodesAwake,
  type NodeOrders,
  ordersOfNode,
  saveNode,
  touchNode,
} from "../store/nodes";
import { SpaceWatch } from "./disk-space";
import type { NodeFaults } from "./faults";
import { measureSome } from "../measuring/measure-files";
import { NodeHandovers } from "./hand-over";
import { answerQuestions } from "./readiness";
import { type ReadyNode, RunReadiness } from "./run-readiness";
import { judgeName, LOOK_AGAIN_SECONDS } from "./node-name";
import { beatMs } from "./beat";
import { attemptLease, type LeaseHolder } from "./leased-attempt";
import { requireHouseVersion } from "./house-version";
import { AWAY_SECONDS } from "../queue/takers";
import { Waking } from "./waking";
import { whileDatabaseAway } from "./while-away";
import { Shyness } from "./shyness";
import { forgivenAt } from "../store/asides";
import type { LogLevel } from "@/contract/log";
import { type AttemptEnd } from "./attempt-end";
import { isDatabaseAway, isTurnedOut } from "../db/away";

export interface NodeOptions {
  /** Unique in the house: a second process of that name is refused while the first lives. */
  readonly name: string;
  /** Short ones are taken over soon; too short ones are lost on a busy machine. */
  readonly leaseSeconds?: number;
  /** A renderer that says nothing for so long hangs. */
  readonly silenceSeconds?: number;
  /** Cores of a node that was never here; 1 where it is left out. Later what is decided on the page holds. */
  readonly firstCores?: number;
  /** Frames that take less are never hurried. */
  readonly leastLimitSeconds?: number;
  /** Takes frames without a proof that it sees their files: for the demo's faulty node. */
  readonly isUnproven?: boolean;
  /** Of the program: a house of another one is not worked for. */
  readonly version: string;
  readonly faults: NodeFaults;
  /** What goes to the node's own output. */
  readonly log: (level: LogLevel, text: string) => void;
}

/** A slot that may take nothing looks again so often whether it may. */
const IDLE_MS = 400;
/**
 * Between two looks for work, when there was none and nothing has happened since: what comes wakes it with the next beat, but
 * leases that run out and hours that come tell nobody. With a lease of 25 s it keeps the promise of 30.
 */
const UNWOKEN_MS = 3_000;
/** Between two signs of life of a node, or a quarter of its lease: its name is another's to take after a whole one. */
const SIGN_MS = 2_000;
/** A node with nothing in work has nothing to stop: it hears of new work a little later. */
const IDLE_BEATS = 2;
/** Between two counts of all nodes. */
const COUNT_MS = 30_000;
/** Between two looks for runs that have ended, while there is work. */
const CLOSE_MS = 5_000;

/** Another user's process is alive, too. */
const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
};

/** One frame at a time; a node has as many as it may use cores. */
interface Slot {
  /** Its own: a renderer never serves two slots. */
  readonly engine: Engine;
  readonly queue: NodeQueue;
  /** By run: what a frame took, for the size of the next batch. */
  readonly paces: Map<number, Pace>;
  /** Of runs that it spoiled frames of. */
  readonly shyness: Shyness;
  /** Asks the frame in work to be saved and given back; null while there is none. */
  askToStop: (() => void) | null;
  /** Settles when the slot has given back what it had. */
  over: Promise<void>;
}

/** `run` works until `stop`; both settle when every slot has given back what it had. */
export class RenderNode {
  readonly #pool: Pool;
  readonly #makeEngine: () => Engine;
  readonly #options: NodeOptions;
  readonly #leaseSeconds: number;
  readonly #session = crypto.randomUUID();
  readonly #shutdown = new AbortController();
  readonly #slots: Slot[] = [];
  readonly #readiness: RunReadiness;
  readonly #space: SpaceWatch;
  /** What looks at disks takes its time, and must not delay the heartbeat. */
  #looking: Promise<void> | null = null;
  #closedAt = 0;
  #orders: NodeOrders = {
    ...USUAL_SETTINGS,
    ...{ housePause: "no", houseVersion: null, lastEvent: 0, isAsked: false },
  };
  /** On the process's own clock; null: none was given yet. */
  #signAt: number | null = null;
  #saidTakes = true;
  #waking = new Waking();
  /** Of all that are awake: they share the database. */
  #nodes = 1;
  #countedAt: number | null = null;
  #id = 0;
  #frames = 0;
  #failure: Error | null = null;

  constructor(pool: Pool, makeEngine: () => Engine, options: NodeOptions) {
    this.#pool = pool;
    this.#makeEngine = makeEngine;
    this.#options = options;
    this.#leaseSeconds = options.leaseSeconds ?? LEASE_SECONDS;
    this.#readiness = new RunReadiness(pool, options.faults, (text) => options.log("warning", text));
    this.#space = new SpaceWatch(pool);
  }

  /** Ends the node: the running frames go back into the queue, with their samples saved. */
  stop(): void {
    this.#shutdown.abort(new Error("shutdown"));
  }

  /** Works until `stop`. */
  async run(): Promise<void> {
    try {
      await this.#whileAway(() => this.#register());
      this.#options.log("info", "ready");
      while (!this.#isStopping) {
        await this.#whileAway(() => this.#beat());
        await this.#rest(this.#beatMs);
      }
    } catch (error) {
      if (!isDatabaseAway(error)) this.#fail(error);
    } finally {
      this.stop();
      for (const slot of this.#slots) slot.askToStop?.();
      await Promise.all([...this.#slots.map((slot) => slot.over), this.#looking]);
      for (const { engine } of this.#slots) engine.close();
      await markNodeStopped(this.#pool, this.#id, this.#session).catch(() => undefined);
    }
    if (this.#failure !== null) throw this.#failure;
  }

  /** The first reason counts; what comes after it follows from it. */
  #fail(error: unknown): void {
    const { name } = this.#options;
    this.#failure ??= isTurnedOut(error)
      ? new TallyError("key-revoked", { name }).because(error)
      : (error as Error);
  }

  /** Null: the house runs the program that this node is of. */
  get #otherVersion(): TallyError | null {
    const { name, version: here } = this.#options;
    const { houseVersion: house } = this.#orders;
    return house === null || house === here ? null : new TallyError("other-version", { name, here, house });
  }

  /** Shows itself, hears what is decided of it, answers what the server asks before a run. */
  async #beat(): Promise<void> {
    const isOurs = await this.#giveSign();
    const orders = isOurs ? await ordersOfNode(this.#pool, this.#id, this.#session) : null;
    if (orders === null) throw new TallyError("node-replaced", { name: this.#options.name });
    const hasNews = orders.lastEvent !== this.#orders.lastEvent;
    this.#orders = orders;
    if (hasNews) {
      // What is remembered of the queue is of before.
      forgetOpenQueue(this.#pool);
      this.#waking.wake();
    }
    while (this.#slots.length < orders.cores) this.#openSlot();
    if (hasNews) {
      const forgiven = await forgivenAt(this.#pool, this.#id);
      for (const { shyness } of this.#slots) shyness.forgive(forgiven);
    }
    for (const { engine } of this.#slots) engine.setNice(orders.nice);
    if (this.#mustLetGo) for (const slot of this.#slots) slot.askToStop?.();
    // The house was brought up to date: what is in work is ended as it was begun.
    if (this.#otherVersion !== null && this.#slots.every((slot) => slot.askToStop === null))
      throw this.#otherVersion;
    this.#looking ??= this.#look()
      .catch((error: Error) => isDatabaseAway(error) || this.#options.log("warning", error.message))
      .then(() => void (this.#looking = null));
  }

  /** @returns false where another process has its name now */
  async #giveSign(): Promise<boolean> {
    const takes = this.#mayTake && !this.#isStopping;
    const now = performance.now();
    const everyMs = Math.min(Math.max(SIGN_MS, this.#beatMs), (this.#leaseSeconds * 1000) / 4);
    if (this.#signAt !== null && takes === this.#saidTakes && now - this.#signAt < everyMs) return true;
    const isOurs = await touchNode(this.#pool, this.#id, this.#session, takes);
    this.#signAt = now;
    this.#saidTakes = takes;
    return isOurs;
  }

  /** What may take its time, beside the heartbeat. */
  async #look(): Promise<void> {
    if (this.#orders.isAsked)
      await answerQuestions(this.#pool, this.#self, this.#options.faults, this.#makeEngine);
    await this.#readiness.lookAgain(this.#self);
    await this.#space.look();
    await this.#countNodes();
    // Also while every node is busy with another run, and no server is awake: somebody waits for what is
    // called at the end.
    if (performance.now() - this.#closedAt < CLOSE_MS) return;
    this.#closedAt = performance.now();
    await closeEndedRuns(this.#pool);
    await beginFollowing(this.#pool);
  }

  /** In between two heartbeats, for as many nodes as there are. */
  get #beatMs(): number {
    const isIdle = this.#slots.every((slot) => slot.askToStop === null);
    return beatMs(this.#nodes) * (isIdle ? IDLE_BEATS : 1);
  }

  /** How many others there are: from time to time, for they come and go by the hour. */
  async #countNodes(): Promise<void> {
    if (this.#countedAt !== null && performance.now() - this.#countedAt < COUNT_MS) return;
    this.#countedAt = performance.now();
    this.#nodes = await nodesAwake(this.#pool, AWAY_SECONDS);
  }

  get #self(): ReadyNode {
    return { id: this.#id, name: this.#options.name };
  }

  get #isInHours(): boolean {
    const now = new Date();
    return (
      this.#orders.hours === null || isWithinHours(this.#orders.hours, now.getHours() * 60 + now.getMinutes())
    );
  }

  /** What is in work shall be saved and given back: somebody needs the machine. */
  get #mustLetGo(): boolean {
    return this.#orders.pause === "now" || this.#orders.housePause === "now" || !this.#isInHours;
  }

  get #mayTake(): boolean {
    return (
      this.#orders.pause === "no" &&
      this.#orders.housePause === "no" &&
      this.#isInHours &&
      this.#otherVersion === null
    );
  }

  get #isStopping(): boolean {
    return this.#shutdown.signal.aborted;
  }

  /** Slots are opened as cores are given and never closed: one beyond the cores rests. */
  #openSlot(): void {
    const index = this.#slots.length;
    const paces = new Map<number, Pace>();
    const shyness = new Shyness();
    const queue = new NodeQueue(this.#pool, this.#self, {
      leaseSeconds: this.#leaseSeconds,
      paceOf: (runId) => paces.get(runId) ?? null,
      takesSeveral: (runId) => this.#readiness.takesSeveral(runId),
      isReady: async (runId) =>
        !shyness.isShy(runId, performance.now()) &&
        (this.#options.isUnproven === true || (await this.#readiness.isReady(this.#self, runId))),
    });
    const slot: Slot = {
      engine: this.#makeEngine(),
      queue,
      paces,
      shyness,
      askToStop: null,
      over: Promise.resolve(),
    };
    this.#slots.push(slot);
    slot.over = this.#workSlot(slot, index).catch((error: Error) => {
      // Away when the node was asked to end: the leases run out by themselves. All else is a mistake of the
      // program, not of a frame: the process says so and ends.
      if (!isDatabaseAway(error)) this.#fail(error);
      this.stop();
    });
  }

  /** Until the node stops: a frame, and the next. */
  async #workSlot(slot: Slot, index: number): Promise<void> {
    const { shyness } = slot;
    const handovers =
      index > 0
        ? null
        : new NodeHandovers({
            pool: this.#pool,
            leaseSeconds: this.#leaseSeconds,
            log: this.#options.log,
            whileAway: (work) => this.#whileAway(work),
            release: () => slot.queue.release(),
            onBusy: (askToStop) => (slot.askToStop = askToStop),
            mustLetGo: () => this.#isStopping || this.#mustLetGo,
          });
    // Runs are closed after work of one's own, and after whatever was heard of that of others.
    let closedAt: number | null = null;
    while (!this.#isStopping) {
      if (!this.#mayTake || index >= this.#orders.cores) {
        await this.#whileAway(() => slot.queue.release());
        await this.#rest(IDLE_MS);
        continue;
      }
      // Before frames: a person waits for it, and it takes minutes where a run takes hours.
      if (handovers !== null) await this.#whileAway(() => handovers.makeAll(this.#id));
      await this.#whileAway(async () => {
        const before = this.#waking.count;
        // A few between two frames: what was rendered just now, and in time what others have brought.
        const measured = await measureSome(this.#pool, null, () => this.#isStopping || !this.#mayTake);
        const lease = await slot.queue.claim();
        if (lease === null) {
          if (index === 0 && closedAt !== before) {
            await closeEndedRuns(this.#pool);
            closedAt = before;
          }
          if (measured === 0)
            await this.#waking.after(before, Math.max(UNWOKEN_MS, this.#beatMs), this.#shutdown.signal);
        } else {
          closedAt = null;
          this.#frames++;
          const end = await attemptLease(this.#holderOf(slot), lease).catch((error: unknown): AttemptEnd => {
            if (!(error instanceof LeaseLost)) throw error;
            return { kind: "given-back" };
          });
          if (end.kind === "made") {
            shyness.made(lease.runId);
            // Not every frame of a call can tell what its start-up was.
            slot.paces.set(lease.runId, {
              startupSeconds: Math.max(
                end.pace.startupSeconds,
                slot.paces.get(lease.runId)?.startupSeconds ?? 0,
              ),
              frameSeconds: end.pace.frameSeconds,
            });
          }
          if (end.kind === "failed") {
            shyness.failed(lease.runId, performance.now(), Math.random());
            await slot.queue.release();
          }
        }
      });
    }
    await slot.queue.release();
  }

  /** Ends at once when the node is asked to end. */
  async #rest(ms: number): Promise<void> {
    await pause(ms, undefined, { signal: this.#shutdown.signal }).catch(() => undefined);
  }

  /** Tries again and again while the database is away, until the node is asked to end. */
  #whileAway(work: () => Promise<void>): Promise<void> {
    return whileDatabaseAway(work, this.#options.log, this.#shutdown.signal);
  }

  #holderOf(slot: Slot): LeaseHolder {
    const { name, faults, silenceSeconds, leastLimitSeconds, log } = this.#options;
    return {
      pool: this.#pool,
      engine: slot.engine,
      leaseSeconds: this.#leaseSeconds,
      count: this.#frames,
      beatMs: () => this.#beatMs,
      ...{ name, faults, silenceSeconds, leastLimitSeconds, log },
      whileAway: (work) => this.#whileAway(work),
      proveReady: (runId) =>
        this.#options.isUnproven === true
          ? Promise.resolve(true)
          : this.#readiness.proveAgain(this.#self, runId),
      memoryMb: () => this.#orders.memoryMb,
      mustLetGo: () => this.#isStopping || this.#mustLetGo,
      onBusy: (askToStop) => (slot.askToStop = askToStop),
      extend: () => slot.queue.extend(),
      upcomingOf: (lease) =>
        slot.queue.upcoming
          .filter(
            (r) =>
              r.runId === lease.runId &&
              r.sequenceId === lease.sequenceId &&
              r.passes === passBits(lease.passes),
          )
          .map((r) => r.frame),
    };
  }

  /** Takes the name, unless somebody works under it. */
  async #register(): Promise<void> {
    const { name } = this.#options;
    await requireHouseVersion(this.#pool, this.#options);
    const claimant = { host: os.hostname(), pid: process.pid, freshSeconds: this.#leaseSeconds, isAlive };
    for (let isSecondLook = false; ; isSecondLook = true) {
      const id = await transact(async (tx) => {
        const holder = await lockNode(tx, name);
        const verdict = holder === null ? "free" : judgeName(holder, claimant, isSecondLook);
        if (verdict === "look-again") return null;
        if (verdict === "taken")
          throw new TallyError("node-name-taken", { name, pid: holder!.pid, host: holder!.host });
        const saved = await saveNode(tx, {
          name,
          host: claimant.host,
          processors: os.availableParallelism(),
          pid: claimant.pid,
          session: this.#session,
          ...(this.#options.firstCores === undefined ? {} : { firstCores: this.#options.firstCores }),
        });
        await appendEvent(tx, "node");
        return saved;
      }, this.#pool);
      if (id !== null) {
        this.#id = id;
        return;
      }
      await this.#rest(LOOK_AGAIN_SECONDS * 1000);
    }
  }
}
