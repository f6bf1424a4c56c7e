/** Brings files to a project in parts, one after the other, with progress; cancelled, it leaves no part behind. */
import { PART_BYTES, type TakenFile } from "@/contract/file-part";
import { BOUNDS } from "@/contract/bounds";
import { ApiFailure, projectApi, put, remove } from "./api";

export interface FileToBring {
  /** Below the project's `scenes/`. */
  readonly to: string;
  readonly file: File;
}

export interface Brought {
  /** Relative to the project's folder. */
  readonly paths: readonly string[];
  /** Those that were there already, and were neither replaced nor brought. */
  readonly there: readonly string[];
}

/** @throws ApiFailure for a file that is too large, before a byte of any is sent */
function requireSizes(files: readonly FileToBring[]): void {
  const large = files.find(({ file }) => file.size > BOUNDS.uploadBytes);
  if (large === undefined) return;
  const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;
  throw new ApiFailure({
    code: "file-too-large",
    message: `${large.to} has ${gigabytes(large.file.size)}; by a page at most ${gigabytes(BOUNDS.uploadBytes)} can be brought. Copy it into the project's folder instead, then choose it there. Nothing was sent.`,
    faults: [],
  });
}

/**
 * @param replaces whether files that are there are replaced; else they stay and are told
 * @param onBytes hears of all bytes that are there so far
 */
export async function bringFiles(
  project: string,
  files: readonly FileToBring[],
  replaces: boolean,
  onBytes: (bytes: number) => void,
  signal: AbortSignal,
): Promise<Brought> {
  requireSizes(files);
  const paths: string[] = [];
  const there: string[] = [];
  let before = 0;
  for (const { to, file } of files) {
    const upload = crypto.randomUUID();
    const address = (from: number): string =>
      `${projectApi(project)}/files?${new URLSearchParams({
        name: to,
        upload,
        from: String(from),
        size: String(file.size),
        ...(replaces ? { replaces: "" } : {}),
      })}`;
    try {
      let from = 0;
      do {
        const part = file.slice(from, from + PART_BYTES);
        const { file: taken } = await put<{ file: TakenFile | null }>(address(from), part, signal);
        from += part.size;
        onBytes(before + from);
        if (taken !== null) paths.push(taken.path);
      } while (from < file.size);
    } catch (error) {
      if (error instanceof ApiFailure && error.code === "file-there") there.push(to);
      else {
        await remove(address(0)).catch(() => undefined);
        throw error;
      }
    }
    before += file.size;
  }
  return { paths, there };
}
