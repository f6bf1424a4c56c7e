/** The end of a text that may be long. */
import fs from "node:fs/promises";

const TAIL_BYTES = 4_000;

/** The last few lines; nothing where it cannot be seen from here. */
export async function tailOfFile(file: string): Promise<string> {
  const opened = await fs.open(file).catch(() => null);
  if (opened === null) return "";
  try {
    const { size } = await opened.stat();
    const length = Math.min(size, TAIL_BYTES);
    const { buffer, bytesRead } = await opened.read(Buffer.alloc(length), 0, length, size - length);
    return buffer.toString("utf8", 0, bytesRead);
  } finally {
    await opened.close();
  }
}
