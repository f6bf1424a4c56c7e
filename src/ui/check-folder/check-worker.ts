/** Reads files and judges them, beside the page: ready before work, one file at a time, and never an exception. */
import type { CheckAnswer, CheckRequest } from "@/contract/check-messages";
import { checkFile, type CheckTools } from "@/core/image/check-file";
import { damaged, type FileVerdict } from "@/core/image/verdict";
import { makeBrowserTools } from "./browser-tools";

const answer = (message: CheckAnswer): void => self.postMessage(message);

/** Of workers alone, which the types of pages do not know. */
declare class FileReaderSync {
  readAsArrayBuffer(file: Blob): ArrayBuffer;
}

/** Nothing else waits in here: to wait for the file itself costs less than to be told that it is there. */
const reader = new FileReaderSync();

function judge(file: File, tools: CheckTools): FileVerdict {
  try {
    return checkFile(file.name, new Uint8Array(reader.readAsArrayBuffer(file)), tools);
  } catch (error) {
    // It went away, or nobody may read it.
    return damaged(null, "unreadable", `the file cannot be read (${(error as Error).name})`);
  }
}

void makeBrowserTools().then((tools) => {
  self.addEventListener("message", ({ data }: MessageEvent<CheckRequest>) => {
    answer({ type: "checked", id: data.id, verdict: judge(data.file, tools) });
  });
  answer({ type: "ready" });
});
