/** What nodes wrote down of the files that they made, beside a version: for whoever has lost the rest. */
import fs from "node:fs";
import path from "node:path";
import readline from "node:readline";
import { manifestFolder } from "../files/layout";

export interface MadeFile {
  readonly node: string;
  readonly camera: string;
  readonly pass: string;
  readonly frame: number;
  readonly attempt: number;
  /** From start to finish. */
  readonly seconds: number;
}

/** Steps that a line tells the seconds of; the light of a frame may have been gathered for many. */
const STEPS = ["startup", "light", "render", "denoise", "write"] as const;

/** A line, or null for what is none. */
function readLine(node: string, text: string): MadeFile | null {
  let line: unknown;
  try {
    line = JSON.parse(text);
  } catch {
    return null;
  }
  if (line === null || typeof line !== "object") return null;
  const { camera, pass, frame, attempt, seconds } = line as Record<string, unknown>;
  if (typeof camera !== "string" || typeof pass !== "string") return null;
  if (!Number.isSafeInteger(frame) || !Number.isSafeInteger(attempt)) return null;
  if (seconds === null || typeof seconds !== "object") return null;
  const steps = STEPS.map((step) => (seconds as Record<string, unknown>)[step]);
  const sum = steps.reduce<number>((all, s) => all + (typeof s === "number" && s > 0 ? s : 0), 0);
  return { node, camera, pass, frame: frame as number, attempt: attempt as number, seconds: sum };
}

/** @param version its folder; one without manifests has made nothing */
export async function readManifests(version: string): Promise<readonly MadeFile[]> {
  const folder = manifestFolder(version);
  const names = await fs.promises.readdir(folder).catch(() => []);
  const made: MadeFile[] = [];
  for (const name of names) {
    if (!name.endsWith(".jsonl")) continue;
    const input = fs.createReadStream(path.join(folder, name), { encoding: "utf8" });
    for await (const text of readline.createInterface({ input, crlfDelay: Infinity })) {
      const line = readLine(path.basename(name, ".jsonl"), text);
      if (line !== null) made.push(line);
    }
  }
  return made;
}
