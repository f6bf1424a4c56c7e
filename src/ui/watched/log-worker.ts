/** Reads a log piece by piece, beside the page: ready before work, and never an exception. */
import type { ReadLogAnswer, ReadLogRequest } from "@/contract/log-messages";
import { compileLogPattern } from "@/core/review/log-pattern";
import { LogReader } from "@/core/review/log-reader";

/** Bytes between two words of how far it is. */
const TOLD_EVERY = 1 << 22;

const answer = (message: ReadLogAnswer): void => self.postMessage(message);

async function read({ file, sources }: ReadLogRequest): Promise<void> {
  const patterns = sources.flatMap((source) => {
    const compiled = compileLogPattern(source);
    return compiled.ok ? [compiled.pattern] : [];
  });
  const reader = new LogReader(patterns);
  const decoder = new TextDecoder();
  const pieces = file.stream().getReader();
  let bytes = 0;
  let told = 0;
  for (;;) {
    const { done, value } = await pieces.read();
    if (done) break;
    bytes += value.length;
    reader.push(decoder.decode(value, { stream: true }));
    if (bytes - told < TOLD_EVERY) continue;
    told = bytes;
    answer({ type: "so-far", bytes, lines: reader.lines });
  }
  reader.push(decoder.decode());
  answer({ type: "read", read: reader.end() });
}

self.addEventListener("message", ({ data }: MessageEvent<ReadLogRequest>) => {
  read(data).catch((error: unknown) =>
    answer({ type: "failed", message: `The log cannot be read (${(error as Error).name}).` }),
  );
});
answer({ type: "ready" });
