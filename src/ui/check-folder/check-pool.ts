"use client";
/**
 * Workers that judge files, one more than the machine has processors, as one of them waits for the disk. A worker that
 * dies takes its file along as one that cannot be read; one that dies before it was ready ends the check, or it would
 * begin for ever.
 */
import type { CheckAnswer, CheckRequest } from "@/contract/check-messages";
import { damaged, type FileVerdict } from "@/core/image/verdict";

/** More only wait for the disk. */
const MOST_WORKERS = 8;

export interface FolderCheck {
  /** Ends it: nothing is told any more. */
  readonly stop: () => void;
  /** Settled when every file was judged, or the check was stopped. @throws Error where no worker starts */
  readonly done: Promise<void>;
}

/** @param onVerdict hears of each file, by its place in the list */
export function checkFiles(
  files: readonly File[],
  onVerdict: (index: number, verdict: FileVerdict) => void,
): FolderCheck {
  const workers = new Set<Worker>();
  let next = 0;
  let left = files.length;
  let finish: () => void = () => undefined;
  let fail: (error: Error) => void = () => undefined;
  const done = new Promise<void>((resolve, reject) => {
    finish = resolve;
    fail = reject;
  });
  const stop = (): void => {
    for (const worker of workers) worker.terminate();
    workers.clear();
    finish();
  };
  const judged = (index: number, verdict: FileVerdict): void => {
    onVerdict(index, verdict);
    if (--left === 0) stop();
  };
  const start = (): void => {
    const worker = new Worker(new URL("./check-worker.ts", import.meta.url), { type: "module" });
    workers.add(worker);
    /** The file that it has; null while it has none. */
    let current: number | null = null;
    let isReady = false;
    const give = (): void => {
      current = next < files.length ? next++ : null;
      if (current !== null)
        worker.postMessage({ type: "check", id: current, file: files[current]! } satisfies CheckRequest);
    };
    worker.addEventListener("message", ({ data }: MessageEvent<CheckAnswer>) => {
      if (!workers.has(worker)) return;
      isReady = true;
      if (data.type === "checked") {
        current = null;
        judged(data.id, data.verdict);
      }
      if (workers.has(worker)) give();
    });
    worker.addEventListener("error", (event) => {
      event.preventDefault();
      if (!workers.delete(worker)) return;
      worker.terminate();
      if (!isReady) return fail(new Error("The browser starts no worker for the check."));
      if (current !== null) judged(current, damaged(null, "unreadable", "the check of the file broke off"));
      if (left > 0) start();
    });
  };
  if (files.length === 0) finish();
  const count = Math.min(MOST_WORKERS, Math.max(1, navigator.hardwareConcurrency || 1) + 1, files.length);
  for (let i = 0; i < count; i++) start();
  return { stop, done };
}
