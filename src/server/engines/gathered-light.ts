/**
 * The gathered light of a scene that asks for one: gathered as a job of its own, or found, proved and read
 * for a frame.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { GATHERED_LIGHT_FORMAT } from "@/contract/gathered-light";
import type { Scene } from "@/contract/scene";
import { lightBracket, type GatherWork } from "@/core/run/gathered-light";
import type { Plan } from "@/core/plan/plan";
import { LightGather } from "@/render/gather-light";
import { BlendedLight, type LightLookup, LightRecords, RECORD } from "@/render/gathered-light";
import type { FrameRequest } from "@/render/render-frame";
import { type LightFault, readGatheredLight, writeGatheredLight } from "../files/gathered-light-files";
import { type EngineHooks, type FrameJob, RenderFailed } from "./engine";
import type { RenderControl } from "./render-control";
import { gatheredLightFile, temporaryOf } from "../files/layout";

/** Quick shading has no light over surfaces to gather. */
export const asksGatheredLight = (scene: Scene, plan: Pick<Plan, "shading">): boolean =>
  scene.lighting !== undefined && plan.shading === "full";

export interface FoundLight {
  readonly lookup: LightLookup;
  /** Names the content of what is read: samples that were lit otherwise are no part of the same picture. */
  readonly id: string;
  /** What was gathered for it. */
  readonly work: GatherWork;
}

/** By the records alone: who gathered them does not matter. */
const contentOf = (records: Float32Array): string =>
  crypto
    .createHash("sha256")
    .update(new Uint8Array(records.buffer, records.byteOffset, records.byteLength))
    .digest("hex");

const FAULT_TEXT: Readonly<Record<LightFault, string>> = {
  missing: "is missing",
  damaged: "is damaged",
  other: "was made from another scene or plan",
};

/** Makes the request of another frame of the same camera. */
export type RequestAt = (frame: number) => FrameRequest;

interface Kept {
  readonly records: LightRecords;
  /** Hash of the file: part of the look's fingerprint. */
  readonly content: string;
}

/** One of the caches of a frame, and the seconds that it took where it was gathered here. */
interface Found {
  readonly kept: Kept;
  /** Null where it was read. */
  readonly gatherSeconds: number | null;
}

/** Keeps what was read or gathered last: neighbours in a batch read the same. */
export class LightKeeper {
  readonly #kept = new Map<string, Kept>();
  /** Two around a frame, and those around the next. */
  static readonly #MOST = 4;

  /**
   * Lighting for the frame of a job; what is not there, or not fit, is gathered here and kept for the others.
   */
  async find(
    job: FrameJob,
    at: RequestAt,
    hooks: EngineHooks,
    control: RenderControl,
  ): Promise<FoundLight | "stopped"> {
    const { lighting } = at(job.frame).scene;
    const { before, after, share } = lightBracket(job.frame, lighting!.every);
    const both: Found[] = [];
    for (const frame of before === after ? [before] : [before, after]) {
      const found = await this.#findOne(job, frame, at, hooks, control);
      if (found === "stopped") return found;
      both.push(found);
    }
    const [first, last] = [both[0]!.kept, both.at(-1)!.kept];
    const gathered = both.flatMap(({ gatherSeconds }) => (gatherSeconds === null ? [] : [gatherSeconds]));
    const work: GatherWork = { made: gathered.length, seconds: gathered.reduce((sum, s) => sum + s, 0) };
    const id = crypto
      .createHash("sha256")
      .update(both.map(({ kept }) => kept.content).join(" "))
      .digest("hex");
    return {
      id,
      work,
      lookup: first === last ? first.records : new BlendedLight(first.records, last.records, share),
    };
  }

  async #findOne(
    job: FrameJob,
    frame: number,
    at: RequestAt,
    hooks: EngineHooks,
    control: RenderControl,
  ): Promise<Found | "stopped"> {
    const place = job.light === null ? null : gatheredLightFile(job.light.folder, frame);
    const key = `${job.light?.look ?? `${job.scene} ${JSON.stringify(job.plan)} ${job.camera} ${job.hidden.join()}`} ${frame}`;
    const known = this.#kept.get(key);
    if (known !== undefined) return { kept: known, gatherSeconds: null };
    const read = place === null ? "missing" : await readGatheredLight(place, job.light!.look);
    if (typeof read !== "string")
      return {
        kept: this.#keep(key, {
          records: new LightRecords(read.records),
          content: contentOf(read.records),
        }),
        gatherSeconds: null,
      };
    if (place !== null)
      hooks.log("warning", `the gathered light of ${frame} ${FAULT_TEXT[read]}; it is made here`);
    const began = performance.now();
    const records = await gather(at(frame), hooks, control);
    if (records === null) return "stopped";
    const gatherSeconds = (performance.now() - began) / 1000;
    if (place !== null) {
      // Two machines may have one process number.
      const temporary = temporaryOf(place, `-${job.light!.node}-${process.pid}`);
      await fs.mkdir(path.dirname(place), { recursive: true });
      try {
        await writeRecords(temporary, job, frame, records);
        await fs.rename(temporary, place);
      } finally {
        await fs.rm(temporary, { force: true });
      }
    }
    return { kept: this.#keep(key, { records, content: contentOf(records.records) }), gatherSeconds };
  }

  #keep(key: string, kept: Kept): Kept {
    this.#kept.set(key, kept);
    for (const old of this.#kept.keys()) if (this.#kept.size > LightKeeper.#MOST) this.#kept.delete(old);
    return kept;
  }
}

const writeRecords = (file: string, job: FrameJob, frame: number, { records }: LightRecords): Promise<void> =>
  writeGatheredLight(
    file,
    {
      format: GATHERED_LIGHT_FORMAT,
      look: job.light!.look,
      camera: job.camera,
      frame,
      node: job.light!.node,
      records: records.length / RECORD,
    },
    records,
  );

/** Between two breaths, in which a stop is heard. */
const YIELD_MS = 30;

/** null when it was asked to stop: half a cache is none. */
async function gather(
  request: FrameRequest,
  hooks: EngineHooks,
  { isOrphaned, isStopping }: RenderControl,
): Promise<LightRecords | null> {
  const work = new LightGather(request, request.scene.lighting!);
  let yielded = performance.now();
  while (work.gatherRow()) {
    if (isOrphaned()) throw new RenderFailed("orphaned");
    if (performance.now() - yielded <= YIELD_MS) continue;
    hooks.progress(work.progress);
    await new Promise((resolve) => setImmediate(resolve));
    if (isStopping()) return null;
    yielded = performance.now();
  }
  return work.records;
}

/** A job that makes the cache of one frame and no picture. False when it was asked to stop. */
export async function makeGatheredLight(
  job: FrameJob,
  request: FrameRequest,
  hooks: EngineHooks,
  control: RenderControl,
): Promise<boolean> {
  const records = await gather(request, hooks, control);
  if (records === null) return false;
  await writeRecords(job.light!.output!, job, job.frame, records);
  hooks.log("info", `gathered light at ${records.records.length / RECORD} points`);
  return true;
}
