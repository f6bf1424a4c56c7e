/** Pictures as they are seen, made in worker threads: read, shown, fitted, written on. */
import { availableParallelism } from "node:os";
import path from "node:path";
import { Piscina } from "piscina";
import { home } from "../configuration";
import { TallyError } from "../errors";
import { unreadable } from "../files/read-pixels";
import type { SeenTask } from "./seen-picture";
import type { SeenMade } from "./seen-picture-worker";

/** Of the threads, for as long as one handover is made: an encoder beside them wants the processors, too. */
const MOST_THREADS = 4;

export interface SeenPictures {
  /** How many are made at once. */
  readonly atOnce: number;
  /** @throws TallyError `handover-picture-gone`, `handover-picture-size`, `picture-unreadable` */
  see(task: SeenTask): Promise<Uint8Array<ArrayBuffer>>;
  close(): Promise<void>;
}

const sizeText = ({ width, height }: { readonly width: number; readonly height: number }): string =>
  `${width} x ${height}`;

export function openSeenPictures(): SeenPictures {
  const atOnce = Math.max(1, Math.min(MOST_THREADS, availableParallelism()));
  const workers = new Piscina<SeenTask, SeenMade>({
    filename: path.join(home(), "dist/seen-picture-worker.mjs"),
    minThreads: 1,
    maxThreads: atOnce,
  });
  return {
    atOnce,
    async see(task) {
      const made = await workers.run(task);
      if (made instanceof Uint8Array) return made;
      const file = path.basename(task.file);
      switch (made.code) {
        case "gone":
          throw new TallyError("handover-picture-gone", { file });
        case "size":
          throw new TallyError("handover-picture-size", {
            file,
            is: sizeText(made.is),
            wanted: sizeText(task.size),
          });
        case "unreadable":
          throw unreadable(task.file, made.why);
      }
    },
    close: () => workers.destroy(),
  };
}
