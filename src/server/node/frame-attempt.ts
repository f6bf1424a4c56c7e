/**
 * One attempt at one leased frame: renders it in the engine, saves its samples on the way, puts the
 * files in their places, and says what became of it.
 *
 *     rendering --files in place--> done
 *        |-- asked to stop: samples saved --> stopped, the frame waits again
 *        |-- lease lost: killed, temporary files removed --> nothing is kept
 *        |-- error --> failed, with its log
 */
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { checkFile } from "@/core/image/check-file";
import { extensionOf } from "@/core/image/file-format";
import { fileName } from "@/core/naming/pattern";
import type { Pace } from "@/core/run/batch";
import { effortSettings, fingerprintsOf, lookSettings } from "@/core/plan/fingerprint";
import { GUIDE_PASSES, type Pass } from "@/core/plan/passes";
import { nameValues, type ReadPlan, readPlan, versionName } from "@/core/plan/plan";
import { isExternal } from "@/core/plan/renderer";
import { DENOISER_VERSION } from "@/render/denoise";
import { isDatabaseAway, type Pool } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import {
  type CheckpointJob,
  ENGINE,
  type Engine,
  type EngineHooks,
  type FrameJob,
  type Guides,
  type LogLevel,
  RenderFailed,
  type SavedCheckpoint,
  secondsOf,
} from "../engines/engine";
import { engineOf } from "../scenes/renderers";
import { checkpointBefore, checkpointFile, checkpointFolder } from "../files/checkpoint-paths";
import { imageTools } from "../files/image-tools";
import { lightingFolder } from "../files/lighting-files";
import { insideFolder, projectFolder, versionFolder } from "../files/paths";
import { frozenName } from "../scenes/scene-files";
import { fail, judgeRun } from "../queue/failures";
import { giveBack, type LeasedFrame } from "../queue/lease";
import { originOf } from "../folder/folder-state";
import { holdForSpace, isFull } from "./disk-space";
import type { NodeFaults } from "./faults";
import { type LogLine, sayOfAttempt } from "./attempt-log";
import { measureLoad } from "./machine-load";
import { appendManifest } from "./manifest";
import { clearLeftovers, placeCheckpoint, temporaryCheckpoint } from "./place-checkpoint";
import { type FinishedFrame, type FinishedPass, placeFrame } from "./place-frame";

/** What an attempt needs of its node. */
export interface AttemptHost {
  readonly pool: Pool;
  readonly engine: Engine;
  readonly name: string;
  readonly faults: NodeFaults;
  /** Number of this frame, counted from the node's start. */
  readonly count: number;
  /** Frames of its camera and run that come next in this slot. */
  readonly upcoming: readonly number[];
  readonly log: (level: LogLevel, text: string) => void;
  /** Tries again while the database is away. */
  readonly whileAway: (work: () => Promise<void>) => Promise<void>;
  readonly onProgress: (share: number) => void;
  readonly onPreview: (jpeg: Uint8Array) => void;
  /** A finished picture finds no room on the disk. */
  readonly onNoRoom: () => void;
  /** The renderer gave a sign of life. */
  readonly onHeard: () => void;
  /** Why the node ended the attempt; null when it did not. */
  readonly failure: () => RenderFailed | null;
  /** Proves anew that the node sees the run's files and can write. */
  readonly proveReady: (runId: number) => Promise<boolean>;
}

export interface AttemptSignals {
  /** The work is not wanted any more: the engine is killed. */
  readonly abort: AbortSignal;
  /** What there is shall be saved, and the frame go back. */
  readonly stop: AbortSignal;
}

const temporaryName = (final: string, attempt: number): string => `${final}.part${attempt}`;

/** What became of an attempt, as far as its node is concerned. */
export type AttemptEnd =
  { readonly kind: "made"; readonly pace: Pace } | { readonly kind: "failed" | "given-back" };

export async function attemptFrame(
  host: AttemptHost,
  lease: LeasedFrame,
  signals: AttemptSignals,
): Promise<AttemptEnd> {
  const { pool, engine, name, faults } = host;
  const lines: LogLine[] = [];
  let folder: string | null = null;
  const log = (level: LogLevel, text: string): void => {
    lines.push({ level, text });
    host.log(level, `${lease.shot} ${lease.frame}: ${text}`);
  };
  let passes: readonly FinishedPass[] = [];
  const keeper = new CheckpointKeeper(host, lease, log);
  try {
    const read = readPlan(lease.plan);
    if (!read.ok) throw new RenderFailed("plan-wrong", read.faults[0]!.message);
    const project = projectFolder(lease);
    const version = path.join(project, versionFolder(lease.shot, lease));
    folder = version;
    const without = faults.hiddenAmong(Object.keys(lease.sources.files));
    passes = await placesOf(lease, read.value, version, without);
    // What a vanished node left of this frame. A node that only slept cannot place its file any more.
    for (const { final } of passes)
      for (const attempt of lease.lostAttempts) await fs.rm(temporaryName(final, attempt), { force: true });
    const guides = await keptGuides(lease, read.value, version);
    const checkpoint =
      guides === null && lease.kind === "sequence" && !isExternal(lease.plan)
        ? await keeper.prepare(version, without, name)
        : null;
    const job: FrameJob = {
      scene: path.join(version, lease.sceneFolder, frozenName(lease.plan.renderer, lease.plan.scene)),
      plan: lease.plan,
      camera: lease.camera,
      frame: lease.frame,
      upcoming: host.upcoming,
      spentSeconds: lease.spentSeconds,
      hidden: without,
      guides,
      checkpoint,
      // A cache made without a file that this node does not see would spoil the frames of the others.
      lighting:
        lease.kind === "proof" || without.length > 0
          ? null
          : {
              folder: lightingFolder(version, lease.camera),
              look: fingerprintsOf(
                lease.plan,
                lease.sources,
                { camera: lease.camera, pass: "beauty" },
                DENOISER_VERSION,
              ).look,
              node: name,
              output: null,
            },
      passes: passes.map(({ pass, temporary, fingerprints }) => ({
        pass,
        output: temporary,
        made: {
          version: versionName(lease),
          camera: lease.camera,
          pass,
          frame: lease.frame,
          attempt: lease.attemptId,
          node: name,
          ...fingerprints,
        },
      })),
    };
    // At once, so that the log shows what is in work; what the render says follows when it is over.
    await sayOfAttempt(pool, lease, name, folder, [
      {
        level: "info",
        text: `started on ${name}${job.guides === null ? "" : ": denoising the kept beauty, nothing is rendered"}`,
      },
    ]);
    const rendered = performance.now();
    const load = measureLoad();
    const heard =
      <A extends readonly unknown[]>(tell: (...args: A) => void) =>
      (...args: A): void => {
        host.onHeard();
        tell(...args);
      };
    const hooks: EngineHooks = {
      log: heard(log),
      preview: heard(host.onPreview),
      noRoom: heard(host.onNoRoom),
      checkpoint: heard((saved) => keeper.place(saved)),
      progress: heard((share) => {
        host.onProgress(share);
        faults.during(host.count, share);
      }),
    };
    const result = await engine.render(job, hooks, signals.abort, signals.stop);
    if (result.saved !== null) keeper.place(result.saved);
    await keeper.settle();
    if (result.kind === "stopped") {
      const failure = host.failure();
      if (failure !== null) throw failure;
      log(
        "info",
        result.saved === null
          ? "stopped; its samples are not kept"
          : `stopped at ${result.saved.header.samples} of ${lease.plan.samples} samples, which are saved`,
      );
      await sayOfAttempt(pool, lease, name, folder, lines);
      await giveBack(pool, lease);
      return { kind: "given-back" };
    }
    const { output } = result;
    const otherLoad = load.others(output.cpuSeconds);
    await faults.after((performance.now() - rendered) / 1000, signals.abort);
    signals.abort.throwIfAborted();
    const finished: FinishedFrame = {
      lease,
      output,
      passes,
      versionFolder: version,
      dropCheckpointIn:
        lease.kind === "sequence" && !lease.plan.keepSamples ? checkpointFolder(version, lease.camera) : null,
      node: name,
      otherLoad,
      without,
    };
    await sayOfAttempt(pool, lease, name, folder, lines);
    await placePatiently(host, finished, signals.abort);
    if (lease.failures > 0) await judgeRun(pool, lease.runId);
    host.log("info", `${lease.shot} ${lease.frame}: done in ${secondsOf(output).toFixed(2)} s`);
    // The frame is in its place and says itself who made it: a line that cannot be written is no failure of it.
    if (lease.kind === "sequence")
      await appendManifest(
        { ...finished, run: lease.runId, attempt: lease.attemptId, camera: lease.camera, frame: lease.frame },
        new Date(),
      ).catch((error: Error) =>
        host.log("warning", `${lease.shot} ${lease.frame}: no line in the manifest: ${error.message}`),
      );
    return {
      kind: "made",
      pace: {
        startupSeconds: output.startupSeconds,
        frameSeconds: secondsOf(output) - output.startupSeconds - output.lighting.seconds,
      },
    };
  } catch (error) {
    return await giveUp(host, lease, error, signals, { folder, lines });
  } finally {
    await keeper.clear();
    for (const { temporary } of passes) await fs.rm(temporary, { force: true }).catch(() => undefined);
  }
}

/** Ends an attempt that made no frame: lease lost, shutdown, or a failure with its log. */
export async function giveUp(
  host: AttemptHost,
  lease: LeasedFrame,
  error: unknown,
  signals: AttemptSignals,
  said: { readonly folder: string | null; readonly lines: readonly LogLine[] },
): Promise<AttemptEnd> {
  if (isDatabaseAway(error)) throw error;
  if (error instanceof LeaseLost) {
    host.log(
      "warning",
      `${lease.shot} ${lease.frame}: stopped, or the lease went to another node; the work is not kept`,
    );
  } else if (signals.stop.aborted && host.failure() === null) {
    await giveBack(host.pool, lease);
  } else {
    const { code, message } = failureOf(host.failure() ?? error);
    host.log("error", `${lease.shot} ${lease.frame}: ${message}`);
    await sayOfAttempt(host.pool, lease, host.name, said.folder, [
      ...said.lines,
      { level: "error", text: message },
    ]);
    if (isFull(code)) await holdForSpace(host.pool, lease.runId);
    const isOfPlace = isFull(code) || (PLACE_CODES.has(code) && !(await host.proveReady(lease.runId)));
    await fail(host.pool, lease, { code, message, isOfPlace }).catch((lost: unknown) => {
      if (!(lost instanceof LeaseLost)) throw lost;
    });
    return { kind: "failed" };
  }
  return { kind: "given-back" };
}

/** Failures that may lie in what the node sees of the files, not in frame or scene. */
const PLACE_CODES: ReadonlySet<string> = new Set([
  "scene-missing",
  "texture-missing",
  ...[
    "enoent",
    "enotdir",
    "eacces",
    "eperm",
    "erofs",
    "eio",
    "estale",
    "enodev",
    "enxio",
    "ehostdown",
    "etimedout",
  ].map((code) => `file-${code}`),
]);

/** Another program holds the file that is to be replaced, for a moment mostly. */
const HELD_CODES: ReadonlySet<string> = new Set(["EBUSY", "EPERM", "EACCES", "ETXTBSY"]);
const HELD_PAUSES_MS = [500, 1_500, 4_000];

/** Puts a frame in place; tries again a few times while another program holds the old file. */
async function placePatiently(
  host: AttemptHost,
  finished: FinishedFrame,
  signal: AbortSignal,
): Promise<void> {
  for (const pauseMs of [...HELD_PAUSES_MS, null]) {
    try {
      return await host.whileAway(() => placeFrame(host.pool, finished));
    } catch (error) {
      if (pauseMs === null || !HELD_CODES.has((error as NodeJS.ErrnoException).code ?? "")) throw error;
      const text = `the old file is held by another program (${(error as NodeJS.ErrnoException).code}); trying again`;
      host.log("warning", `${finished.lease.shot} ${finished.lease.frame}: ${text}`);
      await sayOfAttempt(host.pool, finished.lease, host.name, finished.versionFolder, [
        { level: "warning", text },
      ]);
      await pause(pauseMs, undefined, { signal });
    }
  }
}

/** Puts the saved samples of one attempt in place, one after the other, and leaves no temporary file. */
class CheckpointKeeper {
  readonly #host: AttemptHost;
  readonly #lease: LeasedFrame;
  readonly #log: (level: LogLevel, text: string) => void;
  #folder = "";
  #placing: Promise<void> = Promise.resolve();
  readonly #temporaries: string[] = [];

  constructor(host: AttemptHost, lease: LeasedFrame, log: (level: LogLevel, text: string) => void) {
    this.#host = host;
    this.#lease = lease;
    this.#log = log;
  }

  async prepare(version: string, without: readonly string[], node: string): Promise<CheckpointJob> {
    const { plan, camera, frame, attemptId, lostAttempts } = this.#lease;
    this.#folder = await insideFolder(version, path.relative(version, checkpointFolder(version, camera)));
    await fs.mkdir(this.#folder, { recursive: true });
    clearLeftovers(this.#folder, frame, lostAttempts);
    const rule = plan.checkpoints;
    return {
      resumeFrom: [checkpointFile(this.#folder, frame), checkpointBefore(this.#folder, frame)],
      temporary: temporaryCheckpoint(this.#folder, frame, attemptId),
      everySeconds: rule.kind === "every" ? rule.minutes * 60 : null,
      whenStopped: rule.kind !== "never",
      whenDone: plan.keepSamples,
      made: {
        version: versionName(this.#lease),
        attempt: attemptId,
        node,
        look: { ...lookSettings(plan, usedSources(this.#lease, without), "beauty"), camera },
        effort: effortSettings(plan),
      },
    };
  }

  place(saved: SavedCheckpoint): void {
    this.#temporaries.push(saved.temporary);
    this.#placing = this.#placing
      .then(() => placeCheckpoint(this.#host.pool, this.#lease, this.#folder, saved))
      .catch((error: unknown) => {
        if (error instanceof LeaseLost) throw error;
        // The frame itself goes on: what is lost is only a place to go on from.
        this.#log("warning", `samples could not be saved: ${(error as Error).message}`);
      });
    // Heard by `settle`; until then it must not end the process.
    this.#placing.catch(() => undefined);
  }

  /** Waits until all is in place. Throws LeaseLost. */
  settle(): Promise<void> {
    return this.#placing;
  }

  async clear(): Promise<void> {
    await this.#placing.catch(() => undefined);
    for (const temporary of this.#temporaries) await fs.rm(temporary, { force: true }).catch(() => undefined);
    if (this.#folder !== "") clearLeftovers(this.#folder, this.#lease.frame, [this.#lease.attemptId]);
  }
}

/** What the render really used: files that this node does not see are null. */
const usedSources = (lease: LeasedFrame, without: readonly string[]) => ({
  ...lease.sources,
  files: { ...lease.sources.files, ...Object.fromEntries(without.map((file) => [file, null])) },
  engine: engineOf(lease.plan.renderer),
});

/** Where each pass of a frame goes, and what it will be. Proofs go to a folder of their own. */
async function placesOf(
  lease: LeasedFrame,
  read: ReadPlan,
  version: string,
  without: readonly string[],
): Promise<FinishedPass[]> {
  const places: FinishedPass[] = [];
  for (const [pass, sequenceId] of lease.sequenceIds) {
    const relative =
      lease.kind === "proof"
        ? path.join(".tally", "proofs", String(lease.runId), lease.camera, pass)
        : path.join(lease.camera, pass);
    const folder = await insideFolder(version, relative);
    await fs.mkdir(folder, { recursive: true });
    const final = path.join(
      folder,
      fileName(
        read.pattern,
        nameValues(lease.project, lease.shot, { ...lease, pass }),
        lease.frame,
        extensionOf(lease.plan.file),
      ),
    );
    const fingerprints = fingerprintsOf(
      lease.plan,
      usedSources(lease, without),
      { camera: lease.camera, pass },
      DENOISER_VERSION,
    );
    places.push({ pass, sequenceId, final, temporary: temporaryName(final, lease.attemptId), fingerprints });
  }
  return places;
}

/** Files of the frame from which the denoised twin alone can be made: all there, in linear light, and of the very look that the plan asks for. */
async function keptGuides(lease: LeasedFrame, read: ReadPlan, version: string): Promise<Guides | null> {
  if (
    lease.kind !== "sequence" ||
    lease.passes.length !== 1 ||
    lease.passes[0] !== "denoised" ||
    lease.plan.file.kind !== "exr"
  )
    return null;
  const found = new Map<Pass, string>();
  for (const pass of ["beauty", ...GUIDE_PASSES] as const) {
    const file = path.join(
      version,
      lease.camera,
      pass,
      fileName(
        read.pattern,
        nameValues(lease.project, lease.shot, { ...lease, pass }),
        lease.frame,
        extensionOf(lease.plan.file),
      ),
    );
    const bytes = await fs.readFile(file).catch(() => null);
    const { look } = fingerprintsOf(
      lease.plan,
      { ...lease.sources, engine: ENGINE },
      { camera: lease.camera, pass },
      DENOISER_VERSION,
    );
    if (
      bytes === null ||
      checkFile(file, bytes, imageTools).verdict !== "good" ||
      originOf(bytes).look !== look
    )
      return null;
    found.set(pass, file);
  }
  return Object.fromEntries(found) as Guides;
}

/** What goes into the attempt: a told failure as it is; one of the file system by its number. */
function failureOf(error: unknown): { readonly code: string; readonly message: string } {
  if (error instanceof RenderFailed || error instanceof TallyError) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  return typeof code === "string"
    ? { code: `file-${code.toLowerCase()}`, message: `The frame cannot be put in its place: ${message}` }
    : { code: "node-error", message };
}
