/** What the records of a project say: the rows that there were, the last word on each counting. */
import fs from "node:fs";
import path from "node:path";
import readline from "node:readline";
import { largest } from "@/core/many";
import { isRecordFile, manifestFolder } from "../files/layout";
import { type RecordLine, type RecordRow, readRecordLine } from "./record-line";

export interface RecordRead {
  /** By table. */
  readonly rows: ReadonlyMap<string, readonly RecordRow[]>;
  /** The last word is that somebody took the project out of the tally. */
  readonly isRemoved: boolean;
  /** Lines that cannot be read, such as the last one of a machine that lost its power. */
  readonly broken: number;
}

/** Lines between two words of how far it is. */
const TOLD_EVERY = 5_000;

/** The last word on a row. */
interface Said {
  readonly go: number;
  readonly table: string;
  readonly row: RecordRow | null;
}

/**
 * @param project its folder
 * @param onLines told how many lines were read so far
 * @throws AbortError, or what the file system says of a record that is there and cannot be read
 */
export async function readRecords(
  project: string,
  { signal, onLines }: { readonly signal?: AbortSignal; readonly onLines?: (lines: number) => void } = {},
): Promise<RecordRead> {
  const folder = manifestFolder(project);
  const names = await fs.promises.readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return [];
    throw error;
  });
  const files = names.filter(isRecordFile);
  const said = new Map<string, Said>();
  /** From where on something counts, and whether that is the end of it. */
  let base = 0;
  let isRemoved = false;
  const begin = (go: number, isEnd: boolean): void => {
    if (go < base) return;
    base = go;
    isRemoved = isEnd;
  };
  let lines = 0;
  let broken = 0;
  for (const name of files) {
    const input = fs.createReadStream(path.join(folder, name), { encoding: "utf8" });
    for await (const text of readline.createInterface({ input, crlfDelay: Infinity })) {
      if (text === "") continue;
      if (++lines % TOLD_EVERY === 0) {
        signal?.throwIfAborted();
        onLines?.(lines);
      }
      const line = readRecordLine(text);
      if (line === null) broken++;
      else if ("whole" in line) begin(line.whole, false);
      else if ("removed" in line) begin(line.removed, true);
      else {
        const key = `${line.table} ${line.key}`;
        if ((said.get(key)?.go ?? 0) <= line.go) said.set(key, line);
      }
    }
  }
  const rows = new Map<string, RecordRow[]>();
  for (const { go, table, row } of said.values()) {
    if (row === null || go < base) continue;
    const own = rows.get(table) ?? [];
    own.push(row);
    rows.set(table, own);
  }
  return { rows, isRemoved, broken };
}

/** More than a first line takes, and a last one that says so. */
const END_BYTES = 64;

/** Of which go a record is whole, by its first line, and with which it was closed, by its last; 0: neither. */
async function endsOf(file: string): Promise<{ readonly whole: number; readonly removed: number }> {
  const handle = await fs.promises.open(file, "r");
  try {
    const { size } = await handle.stat();
    const lineAt = async (position: number, which: 0 | -1): Promise<RecordLine | null> => {
      const { buffer, bytesRead } = await handle.read({ buffer: Buffer.alloc(END_BYTES), position });
      const lines = buffer.subarray(0, bytesRead).toString("latin1").trimEnd().split("\n");
      return readRecordLine(lines.at(which)!);
    };
    const [first, last] = [await lineAt(0, 0), await lineAt(Math.max(0, size - END_BYTES), -1)];
    return {
      whole: first !== null && "whole" in first ? first.whole : 0,
      removed: last !== null && "removed" in last ? last.removed : 0,
    };
  } finally {
    await handle.close();
  }
}

/**
 * Whether the last word of a project's records is that somebody took it out of the tally: told by their ends alone.
 * One that cannot be read says nothing.
 */
export async function isTakenOut(files: readonly string[]): Promise<boolean> {
  const ends = await Promise.all(files.map((file) => endsOf(file).catch(() => ({ whole: 0, removed: 0 }))));
  const removed = largest([0, ...ends.map((end) => end.removed)]);
  return removed > largest([0, ...ends.map((end) => end.whole)]);
}
