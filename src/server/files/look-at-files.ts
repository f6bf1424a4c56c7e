/** Looks at many picture files, each on one of a few processors. */
import { availableParallelism } from "node:os";
import path from "node:path";
import { home } from "../configuration";
import { inOrder } from "../in-order";
import { type LookDepth, lookAtFile, type LookedAt } from "./look-at-file";
import type { LookTask } from "./look-at-file-worker";

/** A picture of 4K in floats is a few hundred megabytes in each of them. */
const MOST_THREADS = 4;
/** Fewer files are looked at sooner than threads have begun. */
const LEAST_FILES = 6;
/** Tasks that wait for each thread, so that none waits for us. */
const AHEAD = 2;

/** In the order of the files. */
export async function* lookAtFiles(files: readonly string[], depth: LookDepth): AsyncGenerator<LookedAt> {
  const threads = Math.min(MOST_THREADS, availableParallelism());
  if (files.length < LEAST_FILES || threads < 2) {
    for (const file of files) yield await lookAtFile(file, depth);
    return;
  }
  const { Piscina } = await import("piscina");
  const workers = new Piscina<LookTask, LookedAt>({
    filename: path.join(home(), "dist/look-at-file-worker.mjs"),
    minThreads: threads,
    maxThreads: threads,
    concurrentTasksPerWorker: 1,
  });
  try {
    yield* inOrder(files.length, threads * AHEAD, (n) => workers.run({ file: files[n]!, depth }));
  } finally {
    await workers.destroy();
  }
}
