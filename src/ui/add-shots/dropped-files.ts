/** Files that somebody dropped or chose, with folders walked, and what each scene among them uses. */
import { type DroppedFile, usedByScene } from "@/core/plan/dropped-scenes";
import { type DroppedEntry, droppedEntries } from "../page/dropped-entries";

export interface ChosenFile extends DroppedFile {
  readonly file: File;
  /** Why it is no scene though it looks like one; null where nothing is wrong. */
  readonly fault: string | null;
}

/** Larger than any scene: such a file is not read to see whether it is one. */
const MAX_SCENE_BYTES = 50_000_000;
/** A drop of more files is a slip of the hand. */
export const MAX_FILES = 2_000;

/** @throws Error with a sentence where there are far too many */
export async function filesOfDrop(data: DataTransfer): Promise<readonly ChosenFile[]> {
  const found: DroppedEntry[] = [];
  for await (const entry of droppedEntries(data)) {
    found.push(entry);
    if (found.length > MAX_FILES) break;
  }
  return readAll(found);
}

/** Files of an input; those of a chosen folder know their paths. */
export const filesOfInput = (files: FileList): Promise<readonly ChosenFile[]> =>
  readAll([...files].map((file) => ({ path: file.webkitRelativePath || file.name, file })));

async function readAll(
  files: readonly { readonly path: string; readonly file: File }[],
): Promise<readonly ChosenFile[]> {
  if (files.length > MAX_FILES)
    throw new Error(
      `More than ${MAX_FILES.toLocaleString("en")} files were dropped; drop the scene's folder alone.`,
    );
  return Promise.all(files.map(async ({ path, file }) => ({ path, file, ...(await readScene(path, file)) })));
}

/** What a scene of the stand-in uses; whether it is right in all is for the server, when it is there. */
async function readScene(path: string, file: File): Promise<Pick<ChosenFile, "uses" | "fault">> {
  const none = { uses: null, fault: null };
  if (!/\.json$/i.test(path) || file.size > MAX_SCENE_BYTES) return none;
  let value: unknown;
  try {
    value = JSON.parse(await file.text());
  } catch (error) {
    return { uses: null, fault: `${path} is not JSON: ${(error as Error).message}` };
  }
  return { uses: usedByScene(value), fault: null };
}
