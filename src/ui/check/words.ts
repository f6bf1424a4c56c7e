/** Texts of the Check bench: findings are data, their wording is here. */
import type { FindingView } from "@/contract/sequence-view";
import type { FileFault } from "@/core/image/verdict";
import type { OddCode } from "@/core/odd/odd";
import type { PlanFault } from "@/core/plan/against-plan";
import type { PatchRange } from "@/core/run/patch-ranges";

/** Who says so matters: a person's flag is taken back by a person, a check's by a whole file. */
export const SOURCE_WORD: Readonly<Record<FindingView["source"], string>> = {
  check: "found by a check",
  node: "told by its node",
  person: "flagged by hand",
  odd: "odd, and accepted",
};

/** One finding as a sentence. */
export function findingText(finding: FindingView): string {
  switch (finding.code) {
    case "empty":
      return "The file is empty.";
    case "truncated":
      return `The file is ${finding.text}.`;
    case "by-hand":
      return finding.text;
    case finding.source === "odd" ? finding.code : "":
      return finding.why === null ? finding.text : `${finding.text} No fault: ${finding.why}.`;
    default:
      return `${finding.text.charAt(0).toUpperCase()}${finding.text.slice(1)}.`;
  }
}

/** Who found it. */
export const sourceText = (finding: FindingView): string =>
  finding.who === null ? SOURCE_WORD[finding.source] : `flagged by ${finding.who}`;

/** As the closed ones are marked. */
export const STATE_WORD: Readonly<Record<FindingView["state"], string>> = {
  open: "open",
  dismissed: "taken back",
  fixed: "fixed",
};

/** What is odd, in a list. */
export const ODD_WORD: Readonly<Record<OddCode, string>> = {
  pop: "pop",
  frozen: "frozen",
  double: "there twice",
  flicker: "flicker of a part",
  "hot-pixels": "hot pixels",
  "not-a-number": "no numbers",
  brightness: "brightness",
  black: "black",
  clipped: "clipped",
  noise: "grain",
  size: "file size",
  seconds: "seconds",
  samples: "samples",
  older: "older than before",
};

/** What a check finds, in a list. */
const FAULT_WORD: Readonly<Record<FileFault | PlanFault, string>> = {
  empty: "empty",
  truncated: "cut short",
  corrupt: "damaged",
  "not-an-image": "not a picture",
  unreadable: "cannot be read",
  "other-size": "of another size",
  "other-frame": "another frame's file",
  "other-depth": "too few bits",
  "other-channels": "a channel is missing",
  "other-compression": "packed otherwise",
  "other-colours": "other colours",
};
const WHY_WORD: Readonly<Record<string, string>> = { ...ODD_WORD, ...FAULT_WORD };

/** A kind of finding, in a list. */
export const findingKind = (code: string): string =>
  code === "by-hand" ? "flagged by hand" : (WHY_WORD[code] ?? code.replaceAll("-", " "));

const RANGE_WORD: Readonly<Record<PatchRange["result"], string>> = {
  missing: "missing",
  failed: "failed",
  partial: "begun, and not done",
  stale: "out of date",
  flagged: "flagged",
};

/** Why a range is rendered again. */
export const whyText = ({ result, why, isSaid }: Pick<PatchRange, "result" | "why" | "isSaid">): string =>
  why === null ? RANGE_WORD[result] : isSaid ? `“${why}”` : findingKind(why);
