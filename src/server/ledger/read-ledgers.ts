/** What the ledgers of a project say: the rows that there were, the last word on each counting. */
import fs from "node:fs";
import path from "node:path";
import readline from "node:readline";
import { isLedgerFile, manifestFolder } from "../files/layout";
import { type LedgerRow, readLedgerLine } from "./ledger-line";

export interface LedgerRead {
  /** By table. */
  readonly rows: ReadonlyMap<string, readonly LedgerRow[]>;
  /** Ledgers that there are: one a machine. */
  readonly files: number;
  /** Lines that cannot be read, such as the last one of a machine that lost its power. */
  readonly broken: number;
}

/** The last word on a row. */
interface Said {
  readonly go: number;
  readonly table: string;
  readonly row: LedgerRow | null;
}

/**
 * @param project its folder
 * @param onLines told how many lines were read so far
 * @throws AbortError, or what the file system says of a ledger that is there and cannot be read
 */
export async function readLedgers(
  project: string,
  { signal, onLines }: { readonly signal?: AbortSignal; readonly onLines?: (lines: number) => void } = {},
): Promise<LedgerRead> {
  const folder = manifestFolder(project);
  const names = await fs.promises.readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === "ENOENT") return [];
    throw error;
  });
  const files = names.filter(isLedgerFile);
  const said = new Map<string, Said>();
  let base = 0;
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
      const line = readLedgerLine(text);
      if (line === null) broken++;
      else if ("whole" in line) base = Math.max(base, line.whole);
      else if ("removed" in line) base = Math.max(base, line.removed);
      else {
        const key = `${line.table} ${line.key}`;
        if ((said.get(key)?.go ?? 0) <= line.go) said.set(key, line);
      }
    }
  }
  const rows = new Map<string, LedgerRow[]>();
  for (const { go, table, row } of said.values()) {
    if (row === null || go < base) continue;
    const own = rows.get(table) ?? [];
    own.push(row);
    rows.set(table, own);
  }
  return { rows, files: files.length, broken };
}

const TOLD_EVERY = 5_000;
