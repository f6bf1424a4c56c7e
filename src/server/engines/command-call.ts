/**
 * One call of a renderer with a command line, for one frame or for the frames of a batch. Its
 * pictures appear in a folder of its own; it is ended with its process group and all else that it started, and by the
 * system when the node that called it is gone.
 */
import { type ChildProcess, spawn } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { callFolder, endCall, environmentOf, newTrace } from "./call-trace";
import { noteKept } from "./kept-files";
import { guarded } from "../program-guard";
import { LineCutter } from "./line-cutter";
import { CpuMeter } from "./cpu-meter";
import { type ProcessFigures, processTreeFigures } from "./process-tree";

export interface CallResult {
  /** null while it goes on. */
  readonly exit: {
    readonly code: number | null;
    readonly signal: NodeJS.Signals | null;
    readonly fault: string | null;
  } | null;
}

/** Lines that are kept to say why a call failed. */
const LAST_LINES = 6;
/** Characters of a line that are kept, with room in its column for how many more there were. */
const LONGEST_LINE = 950;

/** Where a call works, made before it, so that what it goes on from can be put there. */
export interface CallPlace {
  readonly folder: string;
  /** Its sign; see call-trace. */
  readonly trace: string;
}

/** A folder of its own for the next call. */
export function newCallPlace(): CallPlace {
  const trace = newTrace();
  const folder = callFolder(trace);
  fs.mkdirSync(folder, { mode: 0o700 });
  return { folder, trace };
}

/** Starts with its making; ended by itself, by an abort, or by one that waits too long. */
export class CommandCall {
  readonly folder: string;
  readonly #trace: string;
  readonly #child: ChildProcess;
  readonly #started: RegExp | null;
  readonly #lastLines: string[] = [];
  readonly startedAt = performance.now();
  /** Of its processors, looked at by who waits for its pictures. */
  readonly cpu = new CpuMeter(this.startedAt);
  #renderingAt: number | null = null;
  #result: CallResult = { exit: null };
  #onLine: (text: string) => void = () => undefined;

  /**
   * @param keptIn where files go that the declaration keeps; null: nowhere
   */
  constructor(
    { folder, trace }: CallPlace,
    declared: RendererDeclaration,
    nice: number,
    keptIn: string | null,
    callArguments: readonly string[],
  ) {
    this.#trace = trace;
    this.folder = folder;
    if (declared.keeps !== undefined && keptIn !== null)
      noteKept(this.folder, { names: declared.keeps, folder: keptIn });
    this.#started = declared.started === undefined ? null : new RegExp(declared.started);
    const [program, ...args] = guarded(declared.program, callArguments);
    // A group of its own, so that what it starts ends with it.
    this.#child = spawn(program, args, {
      stdio: ["ignore", "pipe", "pipe"],
      detached: true,
      cwd: this.folder,
      env: environmentOf(this.#trace),
    });
    for (const stream of [this.#child.stdout!, this.#child.stderr!]) {
      const lines = new LineCutter(LONGEST_LINE, (text) => this.#hear(text));
      stream.setEncoding("utf8").on("data", (text: string) => lines.write(text));
      stream.once("end", () => lines.end());
    }
    this.#child.once("error", (error) => this.#end(null, null, error.message));
    // When its pipes are closed too, so that its last lines are heard.
    this.#child.once("close", (code, signal) => this.#end(code, signal, null));
    this.setNice(nice);
  }

  get result(): CallResult {
    return this.#result;
  }

  /** Seconds before it began to render, as far as its lines tell. */
  get startupSeconds(): number {
    return this.#renderingAt === null ? 0 : (this.#renderingAt - this.startedAt) / 1000;
  }

  /** What the program said last. */
  get lastWords(): string {
    return this.#lastLines.join(" / ");
  }

  /** With all that it has started; null when it has ended. */
  get figures(): ProcessFigures | null {
    return this.#child.pid === undefined ? null : processTreeFigures(this.#child.pid);
  }

  /** Who hears the lines from now on: the frame that waits. */
  listen(onLine: (text: string) => void): void {
    this.#onLine = onLine;
  }

  setNice(nice: number): void {
    try {
      if (this.#child.pid !== undefined) os.setPriority(this.#child.pid, nice);
    } catch {
      // It has just ended, or only root may step forward again.
    }
  }

  /** Asks the program and what it started to end by themselves: it may save what it goes on from. */
  askToEnd(): void {
    try {
      if (this.#result.exit === null && this.#child.pid !== undefined)
        process.kill(-this.#child.pid, "SIGTERM");
    } catch {
      // It has just ended.
    }
  }

  /** Ends the program and all it started, and removes what it left. */
  close(): void {
    try {
      if (this.#result.exit === null && this.#child.pid !== undefined)
        process.kill(-this.#child.pid, "SIGKILL");
    } catch {
      // It has just ended.
    }
    // What left the group is found by its sign.
    endCall(this.#trace);
  }

  #hear(text: string): void {
    if (this.#renderingAt === null && this.#started?.test(text) === true)
      this.#renderingAt = performance.now();
    this.#lastLines.push(text);
    if (this.#lastLines.length > LAST_LINES) this.#lastLines.shift();
    this.#onLine(text);
  }

  #end(code: number | null, signal: NodeJS.Signals | null, fault: string | null): void {
    if (this.#result.exit !== null) return;
    this.#result = { exit: { code, signal, fault } };
  }
}
