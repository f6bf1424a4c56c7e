/** What people have said of odd ones: of this very file, and of the one before it. */
import { type Odd, type OddCode } from "./odd";

export const JUDGEMENTS = ["accept", "dismiss", "undo"] as const;
/** Accepted, it is a fault and its frame is patched; dismissed, it is none, as long as the file is this one. */
export type Judgement = (typeof JUDGEMENTS)[number];

/** What somebody said of one. */
export interface OddVerdict {
  readonly frame: number;
  readonly code: string;
  /** Hash of the file that was judged. */
  readonly content: string | null;
  /** Accepted and still so, dismissed, or accepted and made anew since. */
  readonly state: "open" | "dismissed" | "fixed";
  readonly who: string | null;
  /** Why it was dismissed. */
  readonly why: string | null;
}

export interface JudgedOdd extends Odd {
  readonly state: "open" | "accepted" | "dismissed";
  readonly who: string | null;
  readonly why: string | null;
  /** The file before was made anew for the same reason: what causes it may still be there. */
  readonly isAgain: boolean;
}

const keyOf = ({ frame, code }: { readonly frame: number; readonly code: OddCode | string }): string =>
  `${frame} ${code}`;

/**
 * @param contents hash of the file of each frame
 * @param verdicts oldest first: of two on one file the later counts
 */
export function judgedOnes(
  odd: readonly Odd[],
  contents: ReadonlyMap<number, string>,
  verdicts: readonly OddVerdict[],
): readonly JudgedOdd[] {
  const said = new Map<string, OddVerdict>();
  const again = new Set<string>();
  for (const verdict of verdicts)
    if (verdict.content !== null && verdict.content === contents.get(verdict.frame)) {
      if (verdict.state !== "fixed") said.set(keyOf(verdict), verdict);
    } else if (verdict.state === "fixed") again.add(keyOf(verdict));
  return odd.map((one) => {
    const verdict = said.get(keyOf(one));
    return {
      ...one,
      state: verdict === undefined ? "open" : verdict.state === "open" ? "accepted" : "dismissed",
      who: verdict?.who ?? null,
      why: verdict?.state === "dismissed" ? verdict.why : null,
      isAgain: again.has(keyOf(one)),
    };
  });
}
