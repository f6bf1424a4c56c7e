/**
 * Faults of known truth in synthetic shots, found by the thresholds as they ship: 20 shots that they were tuned on, and 20
 * of other seeds that were never looked at while they were.
 */
import { USUAL_THRESHOLDS } from "@/core/odd/odd";
import { scoreOf } from "../tests/support/messes/score";
import { FAULTS } from "../tests/support/messes/synthetic-shot";
import { type Measured, rounded } from "./measured";

const SHOTS = 20;
const [TUNED, OTHERS] = [1, 101];
const [LEAST_RECALL, MOST_ALARMS] = [0.95, 1];

interface Table {
  readonly recall: number;
  /** False alarms a shot. */
  readonly alarms: number;
  readonly text: string;
}

function tableFrom(first: number): Table {
  const scores = Array.from({ length: SHOTS }, (_, i) => scoreOf(first + i, USUAL_THRESHOLDS));
  const sum = (of: "there" | "found", fault: (typeof FAULTS)[number]): number =>
    scores.reduce((total, { faults }) => total + (faults.get(fault)?.[of] ?? 0), 0);
  const all = (of: "there" | "found"): number => FAULTS.reduce((total, fault) => total + sum(of, fault), 0);
  const alarms = scores.reduce((total, { falseAlarms }) => total + falseAlarms.length, 0) / SHOTS;
  const text = FAULTS.map((fault) => `${fault} ${sum("found", fault)} of ${sum("there", fault)}`).join(", ");
  return {
    recall: all("found") / all("there"),
    alarms,
    text: `${text}; ${rounded(alarms)} false alarms a shot`,
  };
}

export function messes(): Measured {
  const [tuned, others] = [tableFrom(TUNED), tableFrom(OTHERS)];
  return {
    name: "messes",
    value: rounded(tuned.recall * 100),
    unit: "% of frames with a fault",
    yardstick: rounded(others.recall * 100),
    ratio: rounded(tuned.recall / others.recall),
    goal: `at least ${LEAST_RECALL * 100} % found and at most ${MOST_ALARMS} false alarm a shot of 240 frames (${tuned.text}); the yardstick, other seeds, is only measured (${others.text})`,
    holds: tuned.recall >= LEAST_RECALL && tuned.alarms <= MOST_ALARMS,
  };
}
