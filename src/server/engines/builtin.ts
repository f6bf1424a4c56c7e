/**
 * The stand-in renderer in a child process of the node, so that a crash or a kill never takes the
 * node along. The child lives on from frame to frame; an abort kills it, and the next frame gets a
 * new one.
 */
import { type ChildProcess, fork } from "node:child_process";
import os from "node:os";
import type { FromChild, ToChild } from "@/contract/engine-messages";
import {
  type Engine,
  type EngineHooks,
  type FrameJob,
  RenderFailed,
  type RenderResult,
  type SavedCheckpoint,
} from "./engine";
import { processTreeFigures } from "./process-tree";

/**
 * Says something to the child. One that has just ended is told so by its end, which comes by itself: without
 * a listener here the failure to reach it would end the node.
 */
const tell = (child: ChildProcess, message: ToChild<FrameJob>): void =>
  void child.send(message, () => undefined);

/** The child is started with the first frame, and with the next one after a crash. */
export class BuiltinEngine implements Engine {
  readonly name = "builtin";
  readonly #entry: string;
  #child: ChildProcess | null = null;
  #lastId = 0;
  #nice = 0;

  /** @param entry path of the built child program */
  constructor(entry: string) {
    this.#entry = entry;
  }

  render(job: FrameJob, hooks: EngineHooks, signal: AbortSignal, stop: AbortSignal): Promise<RenderResult> {
    const child = (this.#child ??= this.#start());
    const id = ++this.#lastId;
    return new Promise<RenderResult>((resolve, reject) => {
      const settle = (): void => {
        child.off("message", onMessage);
        child.off("exit", onExit);
        child.off("error", onError);
        signal.removeEventListener("abort", onAbort);
        stop.removeEventListener("abort", onStop);
      };
      const onMessage = (message: FromChild<RenderResult, SavedCheckpoint>): void => {
        if (message.type === "ready" || message.id !== id) return;
        if (message.type === "progress") hooks.progress(message.share);
        else if (message.type === "log") hooks.log(message.level, message.text);
        else if (message.type === "checkpoint") hooks.checkpoint(message.saved);
        else if (message.type === "preview") hooks.preview(message.jpeg);
        else if (message.type === "no-room") hooks.noRoom(message.bytes);
        else {
          settle();
          if (message.type === "done") resolve(message.result);
          else reject(RenderFailed.told(message.code, message.message));
        }
      };
      const onExit = (code: number | null, reason: NodeJS.Signals | null): void => {
        settle();
        if (this.#child === child) this.#child = null;
        reject(new RenderFailed("engine-died", { how: reason ?? `exit code ${code}` }));
      };
      // It could not be started, or not be reached: the frame has failed, and the node goes on.
      const onError = (error: Error): void => {
        settle();
        if (this.#child === child) this.#child = null;
        reject(new RenderFailed("engine-died", { how: error.message }));
      };
      const onAbort = (): void => {
        settle();
        this.close();
        reject(signal.reason as Error);
      };
      const onStop = (): void => tell(child, { type: "stop", id });
      if (signal.aborted) return onAbort();
      child.on("message", onMessage);
      child.on("exit", onExit);
      child.on("error", onError);
      signal.addEventListener("abort", onAbort);
      tell(child, { type: "render", id, job });
      if (stop.aborted) onStop();
      else stop.addEventListener("abort", onStop);
    });
  }

  memoryMb(): number | null {
    return this.#child?.pid === undefined ? null : (processTreeFigures(this.#child.pid)?.memoryMb ?? null);
  }

  setNice(nice: number): void {
    if (nice === this.#nice) return;
    this.#nice = nice;
    this.#applyNice();
  }

  #applyNice(): void {
    if (this.#child?.pid === undefined) return;
    try {
      os.setPriority(this.#child.pid, this.#nice);
    } catch {
      // It has just ended, or only root may step forward again: the next child begins with what is asked.
    }
  }

  close(): void {
    this.#child?.kill("SIGKILL");
    this.#child = null;
  }

  #start(): ChildProcess {
    const child = fork(this.#entry, {
      stdio: ["ignore", "inherit", "inherit", "ipc"],
      serialization: "advanced",
    });
    const forget = (): void => {
      if (this.#child === child) this.#child = null;
    };
    child.once("exit", forget);
    child.on("error", forget);
    this.#child = child;
    this.#applyNice();
    return child;
  }
}
