/**
 * Reading files that others may have put there. Under a file's name may stand what is none: a pipe that is
 * waited for without end, a device that never ends, a folder. Such a thing is not opened.
 */
import fs from "node:fs/promises";
import { constants } from "node:fs";

/** As the system would say it of a file that cannot be read: callers know what to do with those. */
const noFile = (file: string): NodeJS.ErrnoException =>
  Object.assign(new Error(`EINVAL: not a regular file, read '${file}'`), {
    code: "EINVAL",
    syscall: "read",
    path: file,
  });

/**
 * The bytes of a regular file.
 * @throws as fs.readFile does; EINVAL for anything but a regular file
 */
export async function readRegular(file: string): Promise<Buffer> {
  if (!(await fs.stat(file)).isFile()) throw noFile(file);
  // It may be another one by now: opened without waiting, and looked at once more.
  const handle = await fs.open(file, constants.O_RDONLY | constants.O_NONBLOCK);
  try {
    if (!(await handle.stat()).isFile()) throw noFile(file);
    return await handle.readFile();
  } finally {
    await handle.close();
  }
}
