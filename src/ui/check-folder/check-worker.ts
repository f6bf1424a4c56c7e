/** Reads files and judges them, beside the page: ready before work, one file at a time, and never an exception. */
import type { CheckAnswer, CheckRequest } from "@/contract/check-messages";
import { checkFile } from "@/core/image/check-file";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { browserTools } from "./browser-tools";

const answer = (message: CheckAnswer): void => self.postMessage(message);

async function judge(file: File): Promise<FileVerdict> {
  try {
    return checkFile(file.name, new Uint8Array(await file.arrayBuffer()), browserTools);
  } catch (error) {
    // It went away, or nobody may read it.
    return damaged(null, "unreadable", `the file cannot be read (${(error as Error).name})`);
  }
}

self.addEventListener("message", ({ data }: MessageEvent<CheckRequest>) => {
  void judge(data.file).then((verdict) => answer({ type: "checked", id: data.id, verdict }));
});
answer({ type: "ready" });
