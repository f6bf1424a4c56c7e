/**
 * What a called program starts is found by a sign in its environment, which children inherit whatever group or
 * session they go to. The sign names the node's process that called, so that a later node can tell what was
 * left behind by one that is gone. Linux alone: elsewhere the process group has to do.
 */
import crypto from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { clearCallFolder } from "./kept-files";
import { programEnvironment } from "../program-environment";

/** In the environment of what is called. */
const SIGN = "PLAIN_TALLY_CALL";
const FOLDER = "plain-tally-call-";
/** A process that is ended may have started another meanwhile: asked again, so often. */
const ROUNDS = 5;

/** Start of a process in ticks since the machine's start: a number that is given again has another. */
function startOf(pid: number): string | null {
  try {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
    // Behind the name, which may hold blanks and brackets: the 20th of what follows.
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? null;
  } catch {
    return null;
  }
}

/** Numbers of processes mean something on one host alone, and containers may share a folder of temporary files. */
const HOST = crypto.createHash("sha256").update(os.hostname()).digest("hex").slice(0, 8);
/** Process, its start, host, and which call. */
const TRACE = /^(\d+)-(\d+)-([0-9a-f]{8})-[0-9a-f]+$/;

/** A sign of this process for one call. */
export const newTrace = (): string =>
  `${process.pid}-${startOf(process.pid) ?? "0"}-${HOST}-${crypto.randomBytes(6).toString("hex")}`;

/** The folder of a call, by its sign. */
export const callFolder = (trace: string): string => path.join(os.tmpdir(), `${FOLDER}${trace}`);

/** What a call with this sign finds in its environment. */
export const environmentOf = (trace: string): NodeJS.ProcessEnv => programEnvironment({ [SIGN]: trace });

/** Whether a sign is of a process of this host that is gone. */
function isLeft(trace: string): boolean {
  const found = TRACE.exec(trace);
  return found !== null && found[3] === HOST && startOf(Number(found[1])) !== found[2];
}

/** Processes with a sign, by number. */
function traced(): ReadonlyMap<number, string> {
  const found = new Map<number, string>();
  let names: readonly string[];
  try {
    names = fs.readdirSync("/proc").filter((name) => /^\d+$/.test(name));
  } catch {
    return found;
  }
  for (const name of names) {
    try {
      const sign = fs
        .readFileSync(`/proc/${name}/environ`, "latin1")
        .split("\0")
        .find((entry) => entry.startsWith(`${SIGN}=`));
      if (sign !== undefined) found.set(Number(name), sign.slice(SIGN.length + 1));
    } catch {
      // It has ended, or is another user's.
    }
  }
  return found;
}

/** Ends every process whose sign is meant. */
function endTraced(isMeant: (trace: string) => boolean): void {
  for (let round = 0; round < ROUNDS; round++) {
    const meant = [...traced()].filter(([pid, trace]) => pid !== process.pid && isMeant(trace));
    if (meant.length === 0) return;
    for (const [pid] of meant) {
      try {
        process.kill(pid, "SIGKILL");
      } catch {
        // It has ended by itself.
      }
    }
  }
}

/** Ends all that a call has started, and clears its folder behind it. */
export function endCall(trace: string): void {
  endTraced((other) => other === trace);
  // Nobody waits for it; what is left of a folder when the node ends is cleared by the next one.
  void clearCallFolder(callFolder(trace)).catch(() => undefined);
}

/** The same for calls of processes that are gone: what a node that was killed left behind. */
export async function endLeftCalls(): Promise<void> {
  endTraced(isLeft);
  for (const name of fs.readdirSync(os.tmpdir())) {
    if (name.startsWith(FOLDER) && isLeft(name.slice(FOLDER.length)))
      await clearCallFolder(path.join(os.tmpdir(), name)).catch(() => undefined);
  }
}
