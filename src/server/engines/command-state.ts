/**
 * What another renderer keeps of a frame between attempts: put before it when it begins, taken from it by the
 * clock, when it stops, when it fails, and at the end where more may be added. It lies among the saved samples,
 * and is judged like them: a state of another look is never gone on from.
 */
import fs from "node:fs/promises";
import { CHECKPOINT_FORMAT } from "@/contract/checkpoint";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { scaledSize } from "@/core/plan/picture";
import { resumeBar } from "@/core/run/checkpoint";
import { readStateHeader, unpackStateFile, writeStateFile } from "../files/state-file";
import type { EngineHooks, FrameJob, SavedCheckpoint } from "./engine";
import { isMeant } from "./kept-files";
import { barText } from "./sampling";

/** Sums are what our own renderer keeps: another one decides itself what its state is good for. */
const ANY_SUMS = { layers: true, cover: true } as const;

/** How far a frame has got. */
export interface StateProgress {
  /** 0 to 1. */
  readonly share: number;
  /** A pixel. */
  readonly samples: number;
  /** Of this attempt. */
  readonly seconds: number;
}

/** The state of one frame in one call. */
export class FrameState {
  readonly #job: FrameJob;
  readonly #declared: RendererDeclaration;
  readonly #hooks: EngineHooks;
  #saves = 0;
  /** Of earlier attempts. */
  #before: { readonly seconds: number; readonly samples: number } = { seconds: 0, samples: 0 };

  constructor(job: FrameJob, declared: RendererDeclaration, hooks: EngineHooks) {
    this.#job = job;
    this.#declared = declared;
    this.#hooks = hooks;
  }

  /** Samples that it went on from. */
  get samplesBefore(): number {
    return this.#before.samples;
  }

  get isKept(): boolean {
    return this.#declared.between !== undefined && this.#job.checkpoint !== null;
  }

  /** Puts the newest state that is whole and fits into the folder of the call; why others do not is said. */
  async bring(folder: string): Promise<void> {
    const { checkpoint, camera, frame, plan } = this.#job;
    if (!this.isKept || checkpoint === null) return;
    const { width, height } = scaledSize(plan);
    for (const file of checkpoint.resumeFrom) {
      const read = await readStateHeader(file);
      if (read === "missing" || read === "other") continue;
      const { header } = read === "damaged" ? { header: null } : read;
      const isOfFrame =
        header?.camera === camera &&
        header.frame === frame &&
        header.width === width &&
        header.height === height;
      if (header !== null && !isOfFrame) continue;
      const bar =
        header === null ? null : resumeBar({ ...header, ...ANY_SUMS }, { ...checkpoint.made, ...ANY_SUMS });
      if (bar !== null) {
        this.#hooks.log("warning", `what was kept cannot be used: ${barText(bar)}`);
        continue;
      }
      if (read === "damaged" || header === null || !(await unpackStateFile(file, read, folder))) {
        this.#hooks.log("warning", "what was kept is damaged and cannot be used");
        continue;
      }
      this.#before = { seconds: header.seconds, samples: header.samples };
      this.#hooks.log("info", `goes on from ${Math.floor(header.share * 100)} %, as kept on ${header.node}`);
      return;
    }
  }

  /** Takes what there is now; null where there is nothing, or it is being written. */
  async take(folder: string, { share, samples, seconds }: StateProgress): Promise<SavedCheckpoint | null> {
    const { checkpoint, camera, frame, plan } = this.#job;
    const patterns = this.#declared.between?.files;
    if (checkpoint === null || patterns === undefined) return null;
    const temporary = `${checkpoint.temporary}-${++this.#saves}`;
    try {
      const names = (await fs.readdir(folder, { withFileTypes: true }))
        .filter((f) => f.isFile() && !f.name.startsWith(".") && patterns.some((p) => isMeant(f.name, p)))
        .map((f) => f.name);
      if (names.length === 0) return null;
      const written = await writeStateFile(
        temporary,
        {
          format: CHECKPOINT_FORMAT,
          ...checkpoint.made,
          ...ANY_SUMS,
          camera,
          frame,
          ...scaledSize(plan),
          exposure: 1,
          cursor: { region: 0, goal: 1, row: 0 },
          samples,
          share,
          seconds: this.#before.seconds + seconds,
        },
        folder,
        names,
      );
      if (written === null) await fs.rm(temporary, { force: true });
      return written === null ? null : { temporary, ...written };
    } catch (error) {
      await fs.rm(temporary, { force: true });
      this.#hooks.log("warning", `what it keeps could not be saved: ${(error as Error).message}`);
      return null;
    }
  }
}
