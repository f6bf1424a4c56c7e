/** Texts of the ledger. */
import type { LedgerOrder, ProjectTally } from "@/core/tally/ledger";
import type { NextStep } from "@/core/tally/next-step";
import { clock, count, frames } from "../words";

/** What the lines are put in order by. */
export const ORDER_TEXT: Readonly<Record<LedgerOrder, string>> = {
  code: "code",
  "most-to-do": "most to do",
  "first-done": "what is done first",
};

/** Heads of groups. */
export const STEP_TEXT: Readonly<Record<NextStep["step"], string>> = {
  patch: "To patch",
  ask: "To ask for elsewhere",
  resume: "Stopped",
  "run-rest": "Begun",
  run: "To run",
  watch: "Running",
  "hand-over": "Done",
};

const shots = (n: number): string => `${count(n)} shot${n === 1 ? "" : "s"}`;

/** "412 of 500 shots done, 38 frames to patch in 6 shots, 3 running, likely until Tue 04:10." */
export function projectSentence(project: ProjectTally, now: number): string {
  const { patch, render, running, likelyFinish } = project;
  const opening =
    project.done === project.shots && project.shots > 0
      ? `All ${shots(project.shots)} done`
      : `${count(project.done)} of ${shots(project.shots)} done`;
  return `${[
    opening,
    ...(patch.shots > 0 ? [`${frames(patch.frames)} to patch in ${shots(patch.shots)}`] : []),
    ...(render.shots > 0 ? [`${frames(render.frames)} to render in ${shots(render.shots)}`] : []),
    ...(running > 0
      ? [
          `${shots(running)} running${likelyFinish === null ? "" : `, likely until ${clock(likelyFinish, now)}`}`,
        ]
      : []),
  ].join(", ")}.`;
}
