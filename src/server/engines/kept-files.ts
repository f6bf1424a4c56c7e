/**
 * Files of a call that its declaration wants kept, beside the pictures: statistics, caches, a log of its own.
 * The call's folder is removed when the call is over, by whoever finds that it is: its own node, or, when that
 * was killed, a later one that knows nothing of it. So a note in the folder says what is kept, and where.
 * Files are copied, as the folder lies on a disk of the machine's own, and never while somebody waits for it.
 */
import fs from "node:fs";
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import { checker, objectOf } from "@/contract/validate";

export interface KeptFiles {
  /** Names in the call's folder; `*` stands for anything. */
  readonly names: readonly string[];
  /** Where they go; absolute. */
  readonly folder: string;
}

const NOTE = ".plain-tally-kept.json";

const checkNote = checker<KeptFiles>(
  objectOf<KeptFiles>({
    names: { type: "array", items: { type: "string" }, maxItems: BOUNDS.keptNames },
    folder: { type: "string", minLength: 1 },
  }),
);

/** Whether a name is meant. From left to right, each part as early as it comes: no name is tried in every split. */
export function isMeant(name: string, pattern: string): boolean {
  const parts = pattern.split("*");
  const [first, last] = [parts[0]!, parts.at(-1)!];
  if (parts.length === 1) return name === pattern;
  if (name.length < first.length + last.length || !name.startsWith(first) || !name.endsWith(last))
    return false;
  let at = first.length;
  const end = name.length - last.length;
  for (const part of parts.slice(1, -1)) {
    const found = name.indexOf(part, at);
    if (found < 0 || found + part.length > end) return false;
    at = found + part.length;
  }
  return true;
}

/** Before the program is called. */
export const noteKept = (callFolder: string, kept: KeptFiles): void =>
  fs.writeFileSync(path.join(callFolder, NOTE), JSON.stringify(kept), { mode: 0o600 });

/** What the note says; null where there is none, or where the program has written its own over it. */
function readNote(callFolder: string): KeptFiles | null {
  try {
    const read = checkNote(JSON.parse(fs.readFileSync(path.join(callFolder, NOTE), "utf8")));
    return read.ok && path.isAbsolute(read.value.folder) ? read.value : null;
  } catch {
    return null;
  }
}

/**
 * Takes out of the folder of a call that is over what is to be kept, and removes it. What cannot be copied is
 * given up: a frame is not worth less for it, and the folder must not stay for good.
 */
export async function clearCallFolder(callFolder: string): Promise<void> {
  const kept = readNote(callFolder);
  try {
    if (kept !== null) await copyKept(callFolder, kept);
  } finally {
    await fs.promises.rm(callFolder, { recursive: true, force: true });
  }
}

async function copyKept(callFolder: string, { names, folder }: KeptFiles): Promise<void> {
  // A file alone: a folder, a pipe or a link to somewhere else is none.
  const files = (await fs.promises.readdir(callFolder, { withFileTypes: true }))
    .filter((f) => f.isFile() && f.name !== NOTE && names.some((pattern) => isMeant(f.name, pattern)))
    .slice(0, BOUNDS.keptFiles);
  if (files.length === 0) return;
  await fs.promises.mkdir(folder, { recursive: true });
  for (const { name } of files)
    await fs.promises.copyFile(path.join(callFolder, name), path.join(folder, name)).catch(() => undefined);
}
