/**
 * What became of a shot since somebody last looked, as sentences: made, mended by itself, waiting for eyes, standing
 * still. Pure; the same sentences stand on the page, on paper and in the command line's answer.
 */
import type { FrameSet } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { wantedText } from "../run/who-takes";
import type { Standstill } from "../run/standstill";
import { nextStep, type NextStep } from "../tally/next-step";
import { sentenceText } from "../tally/sentence";
import type { TallyCounts } from "../tally/tally";

export interface FoundFrames {
  readonly source: "check" | "node" | "person";
  readonly frames: FrameSet;
}

export interface StandingRun {
  readonly id: number;
  /** Null: it goes on. */
  readonly still: Standstill | null;
  /** Why nothing of it is leased, as a sentence; null: it is not held. */
  readonly held: string | null;
}

export interface NewHandover {
  readonly name: string;
  readonly state: "done" | "failed" | "awaiting";
  /** Why it failed, or why it waits; null: nothing keeps it. */
  readonly why: string | null;
}

export interface ShotFacts {
  readonly counts: TallyCounts;
  /** Frames that were made since. */
  readonly made: FrameSet;
  /** Of these, such as had failed, or were lost with their node, since. */
  readonly mended: FrameSet;
  /** Open findings that came since. */
  readonly found: readonly FoundFrames[];
  readonly runs: readonly StandingRun[];
  /** Frames that a stopped run still owns. */
  readonly stoppedLeft: number;
  readonly isWatched: boolean;
  readonly handovers: readonly NewHandover[];
}

/** What became of handovers, as sentences: made, waiting for eyes, standing still. */
export interface HandoverNews {
  readonly made: readonly string[];
  readonly eyes: readonly string[];
  readonly still: readonly string[];
}

export interface ShotNews extends HandoverNews {
  /** The tally now. */
  readonly sentence: string;
  readonly mended: readonly string[];
  readonly step: NextStep;
}

const frames = (n: number): string => `${n} frame${n === 1 ? "" : "s"}`;
const framesOf = (set: FrameSet): string => `${frames(set.count)} (${formatPhrase(set)})`;

const FOUND_BY = { check: "a check", node: "the node that made them", person: "somebody" } as const;
const REST = {
  paused: "is paused",
  "off-hours": "is outside its hours",
  "set-aside": "is set aside",
  away: "is not heard of",
  stopped: "is stopped",
} as const;

/** Null for what is no standstill to worry about: it begins by itself. */
function stillText(still: Standstill): string | null {
  switch (still.code) {
    case "held":
    case "begins-later":
    case "at-limit":
      return null;
    case "in-array":
      return still.fault === null ? null : `the cluster takes no more of it: ${still.fault}`;
    case "awaits":
      return `waits for run ${still.run} (${still.shot})`;
    case "no-node":
      return still.wanted === null
        ? "stands still: no node is at work"
        : `stands still: ${still.wanted.map(wantedText).join(", ")} never came`;
    case "nodes-rest":
      return `stands still: ${still.nodes.map(({ name, rest }) => `${name} ${REST[rest]}`).join(", ")}`;
  }
}

export const handoverNews = (handovers: readonly NewHandover[]): HandoverNews => ({
  made: handovers.filter((h) => h.state === "done").map((h) => `${h.name} handed over`),
  eyes: handovers
    .filter((h) => h.state === "failed")
    .map((h) => `${h.name} was not made. ${h.why ?? ""}`.trim()),
  still: handovers
    .filter((h) => h.state === "awaiting" && h.why !== null)
    .map((h) => `${h.name} waits. ${h.why ?? ""}`.trim()),
});

/** Null where there is nothing to tell. */
export function shotNews(facts: ShotFacts): ShotNews | null {
  const { counts } = facts;
  const handedOver = handoverNews(facts.handovers);
  const made = [...(facts.made.count === 0 ? [] : [`${framesOf(facts.made)} made`]), ...handedOver.made];
  const mended =
    facts.mended.count === 0 ? [] : [`${framesOf(facts.mended)} failed or lost, and made again by itself`];
  const eyes = [
    ...facts.found.map(({ source, frames: set }) => `${framesOf(set)} flagged by ${FOUND_BY[source]}`),
    ...handedOver.eyes,
  ];
  const still = [
    ...facts.runs.flatMap((run) => {
      const why = run.held ?? (run.still === null ? null : stillText(run.still));
      return why === null ? [] : [`Run ${run.id} ${run.held === null ? why : `is held: ${why}`}`];
    }),
    ...(facts.stoppedLeft > 0 ? [`A run was stopped with ${frames(facts.stoppedLeft)} left`] : []),
    ...handedOver.still,
  ];
  if (made.length + mended.length + eyes.length + still.length === 0) return null;
  return {
    sentence: sentenceText(counts),
    made,
    mended,
    eyes,
    still,
    step: nextStep(
      counts,
      facts.runs.some((run) => run.still === null && run.held === null),
      facts.stoppedLeft,
      facts.isWatched,
    ),
  };
}
