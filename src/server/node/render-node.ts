/**
 * The render node: leases a frame, renders it in a child process, puts the file in place, and so on.
 *
 *     idle --claim--> rendering --file in place--> idle
 *                        |-- lease lost, run stopped: child killed, temporary file removed --> idle
 *                        |-- error: attempt failed with its log --> idle
 *     any --shutdown--> lease given back, node marked stopped
 *
 * It measures its own lease on a monotonic clock; whether the lease holds is the database's word.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { fingerprintsOf } from "@/core/plan/fingerprint";
import { checkFile } from "@/core/image/check-file";
import { extensionOf } from "@/core/image/file-format";
import { fileName } from "@/core/naming/pattern";
import { GUIDE_PASSES, type Pass } from "@/core/plan/passes";
import { nameValues, type ReadPlan, readPlan, versionName } from "@/core/plan/plan";
import { DENOISER_VERSION } from "@/render/denoise";
import { isDatabaseAway, type Pool, transact } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import { ENGINE, type Engine, type FrameJob, type Guides, type LogLevel, RenderFailed, secondsOf } from "../engines/engine";
import { imageTools } from "../files/image-tools";
import { insideFolder, projectFolder, versionFolder } from "../files/paths";
import { FROZEN_SCENE } from "../files/scene-files";
import { claim, describeLease, fail, giveBack, type Lease, type LeasedFrame, LEASE_SECONDS, renew, settleRuns } from "../queue/lease";
import { appendEvent } from "../store/events";
import { lockNode, markNodeStopped, saveNode, touchNode } from "../store/nodes";
import { appendLines } from "../store/runs";
import { originOf } from "../work/folder-state";
import type { NodeFaults } from "./faults";
import { appendManifest } from "./manifest";
import { measureLoad } from "./machine-load";
import { answerQuestions } from "./readiness";
import { type FinishedFrame, type FinishedPass, placeFrame } from "./place-frame";

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

const temporaryName = (final: string, attempt: number): string => `${final}.part${attempt}`;

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

  /** Ends the node: the running frame goes back into the queue. */
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
    const onShutdown = (): void => abort.abort(this.#shutdown.signal.reason);
    this.#shutdown.signal.addEventListener("abort", onShutdown);
    let share = 0;
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
          await this.#answer();
          if (state === "stopped" || state === "done") abort.abort(new LeaseLost());
        } catch (error) {
          if (error instanceof LeaseLost) abort.abort(error);
          else if (!isDatabaseAway(error)) abort.abort(error);
          // The database is away: the frame goes on as long as the lease can still be ours.
          else if (performance.now() > leaseEnds) abort.abort(new LeaseLost());
        }
      }
    })();
    try {
      await this.#render(frame, abort.signal, (s) => (share = s));
    } finally {
      this.#shutdown.signal.removeEventListener("abort", onShutdown);
      abort.abort(new LeaseLost());
      await beats;
    }
  }

  async #render(lease: LeasedFrame, signal: AbortSignal, onProgress: (share: number) => void): Promise<void> {
    const { name, faults } = this.#options;
    const lines: { level: LogLevel; text: string }[] = [];
    const log = (level: LogLevel, text: string): void => {
      lines.push({ level, text });
      this.#options.log(level, `${lease.shot} ${lease.frame}: ${text}`);
    };
    let passes: readonly FinishedPass[] = [];
    try {
      const read = readPlan(lease.plan);
      if (!read.ok) throw new RenderFailed("plan-wrong", read.faults[0]!.message);
      const project = projectFolder(lease);
      const version = path.join(project, versionFolder(lease.shot, lease));
      const without = faults.hiddenAmong(Object.keys(lease.sources.files));
      passes = await placesOf(lease, read.value, version, without);
      // What a vanished node left of this frame. A node that only slept cannot place its file any more.
      for (const { final } of passes) for (const attempt of lease.lostAttempts) await fs.rm(temporaryName(final, attempt), { force: true });
      const job: FrameJob = {
        scene: path.join(version, lease.sceneFolder, FROZEN_SCENE), plan: lease.plan, camera: lease.camera, frame: lease.frame, spentSeconds: lease.spentSeconds, hidden: without,
        guides: await keptGuides(lease, read.value, version),
        passes: passes.map(({ pass, temporary, fingerprints }) => ({
          pass, output: temporary, made: { version: versionName(lease), camera: lease.camera, pass, frame: lease.frame, attempt: lease.attemptId, node: name, ...fingerprints },
        })),
      };
      // At once, so that the log shows what is in work; what the render says follows when it is over.
      await appendLines(this.#pool, lease.attemptId, [{ level: "info", text: `started on ${name}${job.guides === null ? "" : ": denoising the kept beauty, nothing is rendered"}` }]);
      const rendered = performance.now();
      const load = measureLoad();
      const output = await this.#engine.render(job, { log, progress: (share) => {
        onProgress(share);
        faults.during(this.#frames, share);
      } }, signal);
      const otherLoad = load.others(output.cpuSeconds);
      await faults.after((performance.now() - rendered) / 1000, signal);
      signal.throwIfAborted();
      const finished: FinishedFrame = { lease, output, passes, versionFolder: version, node: name, otherLoad, without };
      await appendLines(this.#pool, lease.attemptId, lines);
      await this.#whileAway(() => placeFrame(this.#pool, finished));
      this.#options.log("info", `${lease.shot} ${lease.frame}: done in ${secondsOf(output).toFixed(2)} s`);
      if (lease.kind === "sequence") await appendManifest(finished, new Date());
    } catch (error) {
      await this.#giveUp(lease, error, lines);
    } finally {
      for (const { temporary } of passes) await fs.rm(temporary, { force: true }).catch(() => undefined);
    }
  }

  /** Ends an attempt that made no frame: lease lost, shutdown, or a failure with its log. */
  async #giveUp(lease: LeasedFrame, error: unknown, lines: { level: LogLevel; text: string }[]): Promise<void> {
    if (isDatabaseAway(error)) throw error;
    if (error instanceof LeaseLost) {
      this.#options.log("warning", `${lease.shot} ${lease.frame}: stopped, or the lease went to another node; the work is not kept`);
    } else if (this.#isStopping) {
      await giveBack(this.#pool, lease);
    } else {
      const { code, message } = failureOf(error);
      this.#options.log("error", `${lease.shot} ${lease.frame}: ${message}`);
      await appendLines(this.#pool, lease.attemptId, [...lines, { level: "error", text: message }]);
      await fail(this.#pool, lease, code, message).catch((lost: unknown) => {
        if (!(lost instanceof LeaseLost)) throw lost;
      });
    }
  }
}

/** Where each pass of a frame goes, and what it will be. Proofs go to a folder of their own. */
async function placesOf(lease: LeasedFrame, read: ReadPlan, version: string, without: readonly string[]): Promise<FinishedPass[]> {
  const files = { ...lease.sources.files, ...Object.fromEntries(without.map((file) => [file, null])) };
  const places: FinishedPass[] = [];
  for (const [pass, sequenceId] of lease.sequenceIds) {
    const relative = lease.kind === "proof" ? path.join(".tally", "proofs", String(lease.runId), lease.camera, pass) : path.join(lease.camera, pass);
    const folder = await insideFolder(version, relative);
    await fs.mkdir(folder, { recursive: true });
    const final = path.join(folder, fileName(read.pattern, nameValues(lease.project, lease.shot, { ...lease, pass }), lease.frame, extensionOf(lease.plan.file)));
    const fingerprints = fingerprintsOf(lease.plan, { ...lease.sources, files, engine: ENGINE }, { camera: lease.camera, pass }, DENOISER_VERSION);
    places.push({ pass, sequenceId, final, temporary: temporaryName(final, lease.attemptId), fingerprints });
  }
  return places;
}

/** Files of the frame from which the denoised twin alone can be made: all there, in linear light, and of the very look that the plan asks for. */
async function keptGuides(lease: LeasedFrame, read: ReadPlan, version: string): Promise<Guides | null> {
  if (lease.kind !== "sequence" || lease.passes.length !== 1 || lease.passes[0] !== "denoised" || lease.plan.file.kind !== "exr") return null;
  const found = new Map<Pass, string>();
  for (const pass of ["beauty", ...GUIDE_PASSES] as const) {
    const file = path.join(version, lease.camera, pass, fileName(read.pattern, nameValues(lease.project, lease.shot, { ...lease, pass }), lease.frame, extensionOf(lease.plan.file)));
    const bytes = await fs.readFile(file).catch(() => null);
    const { look } = fingerprintsOf(lease.plan, { ...lease.sources, engine: ENGINE }, { camera: lease.camera, pass }, DENOISER_VERSION);
    if (bytes === null || checkFile(file, bytes, imageTools).verdict !== "good" || originOf(bytes).look !== look) return null;
    found.set(pass, file);
  }
  return Object.fromEntries(found) as Guides;
}

/** What goes into the attempt: a told failure as it is; one of the file system by its number. */
function failureOf(error: unknown): { readonly code: string; readonly message: string } {
  if (error instanceof RenderFailed || error instanceof TallyError) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  return typeof code === "string" ? { code: `file-${code.toLowerCase()}`, message: `The frame cannot be put in its place: ${message}` } : { code: "node-error", message };
}
