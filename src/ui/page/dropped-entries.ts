/** Files below what was dropped, as they are found; hidden ones are none of a person's. */

export interface DroppedEntry {
  /** With the names of the folders that it lies in, parted by /. */
  readonly path: string;
  readonly file: File;
}

/** Readers of folders give some entries at a time, and none when they are through. */
const readEntries = (reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> =>
  new Promise((resolve, reject) => reader.readEntries(resolve, reject));
const fileOf = (entry: FileSystemFileEntry): Promise<File> =>
  new Promise((resolve, reject) => entry.file(resolve, reject));

/** @param data only while its event goes on: entries are gone as soon as it is over, so all are taken at once */
export function droppedEntries(data: DataTransfer): AsyncGenerator<DroppedEntry> {
  return walk(
    [...data.items].flatMap((item) => item.webkitGetAsEntry() ?? []),
    [...data.files],
  );
}

/** @param files where the browser has no entries to walk */
async function* walk(
  entries: readonly FileSystemEntry[],
  files: readonly File[] = [],
): AsyncGenerator<DroppedEntry> {
  if (entries.length === 0) for (const file of files) yield { path: file.name, file };
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
