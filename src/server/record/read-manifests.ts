/** What nodes wrote down of the files that they made, beside a version: for whoever has lost the rest. */
import fs from "node:fs";
import path from "node:path";
import readline from "node:readline";
import { isMachineName } from "@/core/naming/name";
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

/** A line, or null for what is none: whoever can write to the folder may have put it there. */
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
  if (!Number.isFinite(sum)) return null;
  return { node, camera, pass, frame: frame as number, attempt: attempt as number, seconds: sum };
}

/** @param version its folder; one without manifests has made nothing */
export async function readManifests(version: string): Promise<readonly MadeFile[]> {
  const folder = manifestFolder(version);
  const names = await fs.promises.readdir(folder).catch(() => []);
  const made: MadeFile[] = [];
  for (const name of names) {
    const node = path.basename(name, ".jsonl");
    if (!name.endsWith(".jsonl") || !isMachineName(node)) continue;
    const input = fs.createReadStream(path.join(folder, name), { encoding: "utf8" });
    for await (const text of readline.createInterface({ input, crlfDelay: Infinity })) {
      const line = readLine(node, text);
      if (line !== null) made.push(line);
    }
  }
  return made;
}
