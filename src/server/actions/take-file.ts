/**
 * A file that a person brings from a page into their project: a scene, or what it uses. It comes in parts, each a
 * request of its own, so that a large one is never held in memory and its progress is seen. It is written under a
 * temporary name and is there whole or not at all.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import type { FilePart, TakenFile } from "@/contract/file-part";
import { nameFault } from "@/core/naming/name";
import { TallyError } from "../errors";
import { insideFolder, projectFolder } from "../files/paths";
import { requireMark } from "../files/project-mark";
import { SCENES, temporaryOf } from "../files/layout";
import { requireProject } from "../store/find-shot";

/** Nobody brings a file for longer: what is older was given up. */
const GIVEN_UP_MS = 24 * 60 * 60 * 1000;
/** What a file has while it comes. */
const COMING = /\.part-bring-[A-Za-z0-9-]+$/;

interface Target {
  /** Absolute. */
  readonly final: string;
  /** The same for all parts of one file. */
  readonly temporary: string;
}

/** @throws TallyError `file-name-wrong`: each part of the path must be a name */
function requireNames(relative: string): void {
  for (const part of relative.split("/")) {
    const fault = nameFault(part, BOUNDS.fileName);
    if (fault !== null) throw new TallyError("file-name-wrong", { name: part, fault });
  }
}

async function targetOf(slug: string, { name, upload }: FilePart): Promise<Target> {
  requireNames(name);
  const project = await requireProject(slug);
  await requireMark(project);
  const scenes = path.join(projectFolder(project), SCENES);
  await fs.mkdir(scenes, { recursive: true });
  const final = await insideFolder(scenes, name);
  return { final, temporary: temporaryOf(final, `-bring-${upload}`) };
}

const isThere = async (file: string): Promise<boolean> => (await fs.stat(file).catch(() => null)) !== null;

/** What somebody began to bring and never ended. */
async function clearGivenUp(folder: string): Promise<void> {
  for (const name of await fs.readdir(folder)) {
    if (!COMING.test(name)) continue;
    const file = path.join(folder, name);
    const stat = await fs.stat(file).catch(() => null);
    if (stat !== null && Date.now() - stat.mtimeMs > GIVEN_UP_MS) await fs.rm(file, { force: true });
  }
}

/**
 * Takes the next part.
 * @returns the file once all of it is there, else null
 * @throws TallyError `file-there` unless it may be replaced; `file-too-large`, `file-name-wrong`;
 * `file-part-wrong` for a part that does not follow the one before
 */
export async function takeFilePart(
  slug: string,
  part: FilePart,
  bytes: Uint8Array,
): Promise<TakenFile | null> {
  const { name, from, size, replaces } = part;
  if (size > BOUNDS.uploadBytes)
    throw new TallyError("file-too-large", { name, mostBytes: BOUNDS.uploadBytes });
  const { final, temporary } = await targetOf(slug, part);
  if (!replaces && (await isThere(final))) throw new TallyError("file-there", { name });
  if (from === 0) {
    await fs.mkdir(path.dirname(final), { recursive: true });
    await clearGivenUp(path.dirname(final));
  }
  const handle = await fs.open(temporary, from === 0 ? "wx" : "r+").catch((error: NodeJS.ErrnoException) => {
    throw new TallyError("file-part-wrong", { name }).because(error);
  });
  try {
    const end = from + bytes.length;
    if ((await handle.stat()).size !== from || end > size || (bytes.length === 0 && size > 0))
      throw new TallyError("file-part-wrong", { name });
    await handle.write(bytes, 0, bytes.length, from);
    if (end < size) return null;
    await handle.sync();
  } finally {
    await handle.close();
  }
  try {
    return await place(name, size, final, temporary, replaces);
  } finally {
    await fs.rm(temporary, { force: true });
  }
}

async function place(
  name: string,
  bytes: number,
  final: string,
  temporary: string,
  replaces: boolean,
): Promise<TakenFile> {
  const isReplaced = await isThere(final);
  if (isReplaced && replaces) await fs.rename(temporary, final);
  else
    // In one step: of two that bring the same name at one moment, the second hears of the first.
    await fs.link(temporary, final).catch((error: NodeJS.ErrnoException) => {
      if (error.code === "EEXIST") throw new TallyError("file-there", { name });
      throw error;
    });
  return { path: `${SCENES}/${name}`, bytes, isReplaced };
}

/** Gives up a file that was begun. */
export async function dropFileParts(slug: string, part: FilePart): Promise<void> {
  const { temporary } = await targetOf(slug, part);
  await fs.rm(temporary, { force: true });
}
