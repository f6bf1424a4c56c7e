/**
 * A folder of files that can be made again: it has a size, and what was used longest ago goes first. Whoever
 * uses a file says so (markUsed); nothing else tells what is still of use.
 */
import fs from "node:fs/promises";
import path from "node:path";

/** Notes that a file was used just now. One that has gone meanwhile is none. */
export async function markUsed(file: string, now: Date): Promise<void> {
  await fs.utimes(file, now, now).catch(() => undefined);
}

/**
 * Removes what was used longest ago until the rest fits.
 * @param mostBytes that may stay
 * @returns how many files went
 */
export async function keepNewest(folder: string, mostBytes: number): Promise<number> {
  const files: { readonly file: string; readonly bytes: number; readonly usedMs: number }[] = [];
  for (const name of await fs.readdir(folder)) {
    const file = path.join(folder, name);
    const stat = await fs.stat(file).catch(() => null);
    if (stat?.isFile()) files.push({ file, bytes: stat.size, usedMs: stat.mtimeMs });
  }
  let bytes = files.reduce((sum, f) => sum + f.bytes, 0);
  let gone = 0;
  for (const { file, bytes: own } of files.sort((a, b) => a.usedMs - b.usedMs)) {
    if (bytes <= mostBytes) break;
    await fs.rm(file, { force: true });
    bytes -= own;
    gone++;
  }
  return gone;
}
