/**
 * Proof that a lossless movie is one: hashes of every picture as it goes into the encoder, held against those of what is
 * decoded from the file.
 */
import fs from "node:fs/promises";
import { temporaryOf } from "../files/layout";
import { encode } from "./ffmpeg";

/** Hash of each picture: the last of the columns. */
const hashesIn = async (file: string): Promise<readonly string[]> =>
  (await fs.readFile(file, "utf8"))
    .split("\n")
    .filter((line) => line !== "" && !line.startsWith("#"))
    .map((line) => line.split(",").at(-1)!.trim());

/** Without bytes that mean nothing. */
const COMPARED: Readonly<Record<string, string>> = { bgr0: "rgb24", bgra: "rgba" };

const hashed = (kept: string, file: string): string[] => [
  ...[
    "-c:v",
    "rawvideo",
    "-pix_fmt",
    COMPARED[kept] ?? kept,
    "-f",
    "framehash",
    "-hash",
    "sha256",
    "-y",
    `file:${file}`,
  ],
];

export interface LosslessProof {
  /** Arguments of ffmpeg for its second output: what goes in. */
  output(filter: string, kept: string): readonly string[];
  /** What is not the same, as a sentence; null: nothing. */
  compare(kept: string, signal: AbortSignal): Promise<string | null>;
  /** Removes what it wrote. */
  forget(): Promise<void>;
}

export function provenLossless(movie: string): LosslessProof {
  const [before, after] = [temporaryOf(movie, "in"), temporaryOf(movie, "out")];
  return {
    output: (filter, kept) => ["-map", "0:v:0", "-vf", filter, ...hashed(kept, before)],
    async compare(kept, signal) {
      await encode({
        args: ["-i", `file:${movie}`, "-map", "0:v:0", ...hashed(kept, after)],
        signal,
        feed: () => Promise.resolve(),
        onFrame: () => undefined,
        onLine: () => undefined,
      });
      const [given, got] = [await hashesIn(before), await hashesIn(after)];
      const other = given.findIndex((hash, i) => hash !== got[i]);
      if (given.length !== got.length) return `${got.length} pictures decode of ${given.length}`;
      return other === -1 ? null : `picture ${other + 1} does not decode to what was put in`;
    },
    async forget() {
      await Promise.all([before, after].map((file) => fs.rm(file, { force: true })));
    },
  };
}
