/** Files of a folder that somebody dropped or chose, with their paths; hidden ones are nobody's pictures. */

export interface FolderFile {
  /** With the folder's own name, parted by /. */
  readonly path: string;
  readonly file: File;
}

/** Readers of folders give some entries at a time, and none when they are through. */
const readEntries = (reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> =>
  new Promise((resolve, reject) => reader.readEntries(resolve, reject));
const fileOf = (entry: FileSystemFileEntry): Promise<File> =>
  new Promise((resolve, reject) => entry.file(resolve, reject));

/**
 * Every file below what was dropped, as it is found.
 * @param data only while its event goes on: entries are taken before anything is waited for
 */
export function filesOfDrop(data: DataTransfer): AsyncGenerator<FolderFile> {
  const entries = [...data.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  return walk(entries);
}

async function* walk(entries: readonly FileSystemEntry[]): AsyncGenerator<FolderFile> {
  for (const entry of entries) {
    if (entry.name.startsWith(".")) continue;
    if (entry.isFile) {
      yield { path: entry.fullPath.replace(/^\//, ""), file: await fileOf(entry as FileSystemFileEntry) };
      continue;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (let some = await readEntries(reader); some.length > 0; some = await readEntries(reader))
      yield* walk(some);
  }
}

const isHidden = (path: string): boolean => path.split("/").some((part) => part.startsWith("."));

/** Those of an input for a folder. */
export const filesOfInput = (files: FileList): readonly FolderFile[] =>
  [...files]
    .map((file) => ({ path: file.webkitRelativePath || file.name, file }))
    .filter(({ path }) => !isHidden(path));
