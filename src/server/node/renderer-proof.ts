/**
 * A node proves a renderer before it takes frames for it: that it is declared here as the run means it, that
 * its program is there and may be run, and, where the declaration says how to ask, that it runs and says its
 * version.
 */
import { execFile } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { promisify } from "node:util";
import { LRUCache } from "lru-cache";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import type { RendererQuestion } from "@/contract/node-request";
import { isExternal } from "@/core/plan/renderer";
import { programEnvironment } from "../program-environment";
import { declarationOf, engineOf } from "../scenes/renderers";

/** A renderer that only says its version takes no longer. */
const PROBE_MS = 20_000;
/** What a probe prints is read so far. */
const LONGEST_ANSWER = 100_000;
/** A probe that went well is believed for so long: pages ask again and again while somebody looks. */
const BELIEVED_MS = 60_000;

const went = new LRUCache<string, true>({ max: 100, ttl: BELIEVED_MS });
const call = promisify(execFile);

/** Where a program is found: itself where it is a path, else on this node's PATH; null where it is not. */
async function findProgram(program: string): Promise<string | null> {
  const places = program.includes(path.sep)
    ? [program]
    : (process.env.PATH ?? "").split(path.delimiter).map((folder) => path.join(folder, program));
  for (const place of places) {
    const isProgram = await fs.access(place, fs.constants.X_OK).then(
      () => fs.stat(place).then((stat) => stat.isFile()),
      () => false,
    );
    if (isProgram) return place;
  }
  return null;
}

/** Asks the program for its version, as its declaration says. */
async function probeFault(place: string, { probe, version }: RendererDeclaration): Promise<string | null> {
  if (probe === undefined) return null;
  const key = JSON.stringify([place, probe, version]);
  if (went.has(key)) return null;
  const called = [place, ...probe].join(" ");
  try {
    const { stdout, stderr } = await call(place, probe, {
      timeout: PROBE_MS,
      killSignal: "SIGKILL",
      maxBuffer: LONGEST_ANSWER,
      env: programEnvironment(),
    });
    if (version !== undefined && !`${stdout}${stderr}`.includes(version))
      return `${called} says nothing of version ${version}`;
  } catch (error) {
    const { code, killed, message } = error as { code?: number | string; killed?: boolean; message: string };
    if (killed === true) return `${called} did not end within ${PROBE_MS / 1000} s`;
    return typeof code === "number" ? `${called} ended with exit code ${code}` : `${called}: ${message}`;
  }
  went.set(key, true);
  return null;
}

/** What keeps this node from rendering with a renderer, as a clause; null where nothing does. */
export async function rendererFault({ name, engine }: RendererQuestion): Promise<string | null> {
  let own: string;
  try {
    own = engineOf(name);
  } catch (error) {
    return (error as Error).message;
  }
  if (isExternal({ renderer: name })) {
    const declared = declarationOf(name);
    const place = await findProgram(declared.program);
    if (place === null) return `${name}: there is no program ${declared.program}`;
    const fault = await probeFault(place, declared);
    if (fault !== null) return `${name}: ${fault}`;
  }
  return own === engine ? null : `the renderer is ${own} here, and the run is for ${engine}`;
}
