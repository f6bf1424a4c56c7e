/** What a run that is started from a shell is followed by. */
import { wishOf } from "@/contract/handover";
import { GAPS } from "@/core/handover/line-up";
import type { Wish } from "@/core/handover/wish";
import { CallWrong, listOf, oneOf } from "./command";
import { presetOf } from "./movie-preset";

export interface ThenOptions {
  /** Presets of movies, and `report`, with commas; nothing follows where it is left out. */
  readonly then?: string;
  /** What becomes of bad frames: it waits until they are patched, or something stands for them. */
  readonly thenGaps?: string;
  readonly tell?: boolean;
}

/** As on the page: every file is unpacked before a movie is made of it. @throws CallWrong */
export async function wishesOfCall({ then, thenGaps, tell = false }: ThenOptions): Promise<readonly Wish[]> {
  if (then === undefined) {
    if (thenGaps !== undefined || tell) throw new CallWrong("--then-gaps and --tell go with --then");
    return [];
  }
  const gaps = thenGaps === undefined ? "stop" : oneOf("--then-gaps", thenGaps, GAPS);
  return Promise.all(
    listOf(then).map(async (name) =>
      wishOf(
        name === "report"
          ? { as: "report", gaps, tells: tell }
          : {
              as: "movie",
              gaps,
              isDeep: true,
              tells: tell,
              movie: await presetOf("--then", name, ["report"]),
            },
      ),
    ),
  );
}
