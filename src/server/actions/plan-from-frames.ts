/** The plan of a version whose frames are there before it: read from them, and corrected by what somebody says. */
import type { TakeInWish } from "@/contract/take-in";
import type { FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { formatWord } from "@/core/image/check-file";
import type { ForeignFormat } from "@/core/image/file-format";
import { MAX_PLAN_FRAMES, type Plan, PLAN_DEFAULTS } from "@/core/plan/plan";
import { ELSEWHERE } from "@/core/plan/renderer";
import { followedFrames, type WatchedSequence } from "@/core/plan/watched";
import type { Rate } from "@/core/timing/rate";
import {
  extentOf,
  type FoundSequenceHere,
  type PictureFacts,
  readPictureFacts,
} from "../folder/found-folder";

/** All from first to last of the main one and of those that share frames with it. */
export function askedOf(sets: readonly FrameSet[]): FrameSet {
  const extents = sets.map((set) => extentOf([set])!);
  return followedFrames(sets[0]!, extents[0]!, extents, MAX_PLAN_FRAMES);
}

/** What of a folder becomes a version. */
export interface Draft {
  readonly rate: Rate;
  readonly sequences: readonly WatchedSequence[];
  readonly asked: FrameSet;
  readonly extent: { readonly first: number; readonly last: number };
  /** Of the main one's pictures; null where none could be read. */
  readonly facts: PictureFacts | null;
  readonly wish: Pick<TakeInWish, "rate" | "alpha" | "isLinear">;
}

const formatOf = (facts: PictureFacts | null, isLinear: boolean | null): ForeignFormat => ({
  kind: "foreign",
  format: facts?.verdict.format == null ? "" : formatWord(facts.verdict.format),
  depth: facts?.verdict.bitDepth ?? null,
  isLinear: isLinear ?? facts?.meaning.isLinear.value ?? false,
});

/** A plan that is read from frames, and corrected by what somebody says of them. */
export function planOf({ rate: usual, sequences, asked, extent, facts, wish }: Draft): Plan {
  const rate = wish.rate ?? facts?.meaning.rate?.value ?? usual;
  const { width, height } = sequences.find((s) => s.size !== null)?.size ?? PLAN_DEFAULTS;
  return {
    ...PLAN_DEFAULTS,
    scene: "",
    renderer: ELSEWHERE,
    cameras: [...new Set(sequences.map((s) => s.camera))],
    passes: [...new Set(sequences.map((s) => s.pass))],
    frames: formatPhrase(asked),
    timeLine: { ...extent, rate },
    rate,
    width,
    height,
    file: formatOf(facts, wish.isLinear),
    alpha: wish.alpha ?? facts?.meaning.alpha.value ?? "none",
    namePattern: "{frame}",
    digits: Math.min(9, sequences[0]!.place.digits),
    watched: { sequences, followsFiles: true },
  };
}

/** Sequences with what their pictures are. @param top absolute: what the sequences' folders are relative to */
export async function withPictures<T extends FoundSequenceHere>(
  top: string,
  sequences: readonly T[],
): Promise<{
  readonly sequences: readonly (T & Pick<WatchedSequence, "size">)[];
  /** Of the first one whose pictures could be read. */
  readonly facts: PictureFacts | null;
}> {
  const facts = await Promise.all(sequences.map((s) => readPictureFacts(top, s)));
  return {
    facts: facts.find((f) => f !== null) ?? null,
    sequences: sequences.map((s, i) => {
      const verdict = facts[i]?.verdict;
      const size =
        verdict?.width == null || verdict.height === null
          ? null
          : { width: verdict.width, height: verdict.height };
      return { ...s, size };
    }),
  };
}
