/**
 * The ledger of a project as a whole: which shots somebody looks for, in which order, in which groups, and all of
 * them in one sentence. A shot's next step is the one that its own line offers.
 */
import { ACTIVITIES, RESULTS, type TallyCounts } from "./tally";
import type { NextStep } from "./next-step";

/** A line of the ledger, as far as it is looked for and counted. */
export interface LedgerShot {
  readonly code: string;
  readonly title: string;
  /** v002, rough001. */
  readonly version: string;
  /** That made its frames, or have one in work. */
  readonly nodes: readonly string[];
  readonly counts: TallyCounts;
  readonly step: NextStep;
  /** Milliseconds since 1970, of the run that goes on; null where none does or nothing is known yet. */
  readonly likelyFinish: number | null;
}

/** What a shot is called by its state: the names of the phrase language that hold for any of its frames. */
export function statesOf({ counts, step }: LedgerShot): readonly string[] {
  const open = RESULTS.filter((r) => r !== "good" && r !== "extra" && counts.results[r] > 0);
  const isDone = counts.asked > 0 && counts.results.good === counts.asked;
  return [
    ...(isDone ? ["done"] : ["todo"]),
    ...open,
    ...ACTIVITIES.filter((a) => counts.activity[a] > 0),
    ...(step.step === "watch" ? ["running"] : []),
    ...(step.step === "resume" ? ["stopped"] : []),
  ];
}

/**
 * Whether a line is looked for: every word must stand in its code, title, version, states or nodes. A word with a
 * minus before it must not.
 */
export function isFound(shot: LedgerShot, text: string): boolean {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== "" && word !== "-");
  if (words.length === 0) return true;
  const line = [shot.code, shot.title, shot.version, ...statesOf(shot), ...shot.nodes]
    .join("\n")
    .toLowerCase();
  return words.every((word) => (word.startsWith("-") ? !line.includes(word.slice(1)) : line.includes(word)));
}

/** Frames that the next step is about. */
const framesOf = (step: NextStep): number => ("frames" in step ? step.frames : 0);

/** Ways of putting the lines in order. */
export const LEDGER_ORDERS = ["code", "most-to-do", "first-done"] as const;
export type LedgerOrder = (typeof LEDGER_ORDERS)[number];

const byCode = (a: LedgerShot, b: LedgerShot): number =>
  a.code.localeCompare(b.code, "en", { numeric: true });

const COMPARE: Readonly<Record<LedgerOrder, (a: LedgerShot, b: LedgerShot) => number>> = {
  code: byCode,
  "most-to-do": (a, b) => framesOf(b.step) - framesOf(a.step) || byCode(a, b),
  // What runs first, by when it is done.
  "first-done": (a, b) =>
    (a.likelyFinish ?? Number.POSITIVE_INFINITY) - (b.likelyFinish ?? Number.POSITIVE_INFINITY) ||
    byCode(a, b),
};

/** A new list, the order of equals by code. */
export const inLedgerOrder = <T extends LedgerShot>(shots: readonly T[], order: LedgerOrder): T[] =>
  [...shots].sort(COMPARE[order]);

/** Next steps in the order in which a person in the morning would take them. */
const STEPS: readonly NextStep["step"][] = [
  "patch",
  "ask",
  "resume",
  "run-rest",
  "run",
  "watch",
  "hand-over",
];

/** Lines by their next step; steps that no line has are left out. */
export const byNextStep = <T extends LedgerShot>(
  shots: readonly T[],
): readonly { readonly step: NextStep["step"]; readonly shots: readonly T[]; readonly frames: number }[] =>
  STEPS.flatMap((step) => {
    const own = shots.filter((shot) => shot.step.step === step);
    return own.length === 0
      ? []
      : [{ step, shots: own, frames: own.reduce((sum, shot) => sum + framesOf(shot.step), 0) }];
  });

/** All shots together. */
export interface ProjectTally {
  readonly shots: number;
  /** All of whose frames are good. */
  readonly done: number;
  /** To be rendered again, or where little is missing; and the shots that they are of. */
  readonly patch: { readonly frames: number; readonly shots: number };
  /** Not rendered yet, and in no run. */
  readonly render: { readonly frames: number; readonly shots: number };
  /** Shots with a run that goes on. */
  readonly running: number;
  /** When the last of these is likely done; null while one cannot tell. */
  readonly likelyFinish: number | null;
}

/** Counts of the lines' own next steps, so that the sentence and the lines cannot disagree. */
export function projectTally(shots: readonly LedgerShot[]): ProjectTally {
  const sum = (...steps: readonly NextStep["step"][]) => {
    const own = shots.filter((shot) => steps.includes(shot.step.step));
    return { frames: own.reduce((all, shot) => all + framesOf(shot.step), 0), shots: own.length };
  };
  const running = shots.filter((shot) => shot.step.step === "watch");
  const finishes = running.map((shot) => shot.likelyFinish);
  return {
    shots: shots.length,
    done: shots.filter((shot) => statesOf(shot).includes("done")).length,
    patch: sum("patch"),
    render: sum("run", "run-rest", "resume"),
    running: running.length,
    likelyFinish:
      finishes.length === 0 || finishes.includes(null)
        ? null
        : finishes.reduce<number>((latest, at) => Math.max(latest, at ?? 0), 0),
  };
}
