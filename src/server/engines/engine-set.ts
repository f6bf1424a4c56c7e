/** The engines of one slot: which one renders, the plan says. */
import { isExternal } from "@/core/plan/renderer";
import { BuiltinEngine } from "./builtin";
import { CommandEngine } from "./command";
import type { Engine, EngineHooks, FrameJob, RenderResult } from "./engine";

/** Hands each job to the engine of its renderer. One job at a time. */
export class EngineSet implements Engine {
  readonly name = "set";
  readonly #builtin: BuiltinEngine;
  readonly #command = new CommandEngine();
  #working: Engine | null = null;

  /** @param childEntry path of the built child program of the stand-in */
  constructor(childEntry: string) {
    this.#builtin = new BuiltinEngine(childEntry);
  }

  async render(
    job: FrameJob,
    hooks: EngineHooks,
    signal: AbortSignal,
    stop: AbortSignal,
  ): Promise<RenderResult> {
    const engine = isExternal(job.plan) ? this.#command : this.#builtin;
    // The stand-in's child is kept from frame to frame: beside another program it would only hold memory.
    if (engine === this.#command) this.#builtin.close();
    else this.#command.close();
    this.#working = engine;
    return engine.render(job, hooks, signal, stop);
  }

  setNice(nice: number): void {
    this.#builtin.setNice(nice);
    this.#command.setNice(nice);
  }

  memoryMb(): number | null {
    return this.#working?.memoryMb() ?? null;
  }

  close(): void {
    this.#builtin.close();
    this.#command.close();
  }
}
