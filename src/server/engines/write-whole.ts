/**
 * Writes a finished picture to the disk, or waits until there is room: what was rendered is not lost to a
 * full disk.
 */
import fs from "node:fs/promises";
import { setTimeout as pause } from "node:timers/promises";

const TRY_AGAIN_MS = 1_000;

async function writeFlushed(file: string, bytes: Uint8Array): Promise<void> {
  const handle = await fs.open(file, "w");
  try {
    await handle.writeFile(bytes);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** @param goesOn asked before each further try, with the bytes that find no room: false gives up
 * @returns false when it gave up
 */
export async function writeWhole(
  file: string,
  bytes: Uint8Array,
  goesOn: (need: number) => boolean,
): Promise<boolean> {
  for (;;) {
    try {
      await writeFlushed(file, bytes);
      return true;
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code !== "ENOSPC" && code !== "EDQUOT") throw error;
      // The part that was written gives its room back.
      await fs.rm(file, { force: true });
      if (!goesOn(bytes.length)) return false;
    }
    await pause(TRY_AGAIN_MS);
  }
}
