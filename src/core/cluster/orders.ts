/**
 * What the batch system is to be told after a look at it: pure, so that every odd moment between two looks can be tried. It is
 * asked to do what the queue wants and does not say again what it does already.
 */
import { EMPTY, difference, type FrameSet, members, setOf, shifted, unionAll } from "../frames/frame-set";
import type { RunState } from "../run/run-life";
import type { TaskKind } from "../run/task-life";
import type { ArrayLine } from "./array-listing";

/** A run that is with the batch system. */
export interface SentRun {
  readonly state: RunState;
  /** It is active, held by nothing, and its time has come. */
  readonly mayBegin: boolean;
  /** How far it shall stand back. */
  readonly nice: number;
  /** Null: all of it. */
  readonly part: FrameSet | null;
}

/** What was submitted for it and is not over. */
export interface SentArray {
  readonly id: number;
  readonly leadId: number;
  readonly kind: TaskKind;
  readonly shift: number;
  /** Lines of the listing that are of it. */
  readonly lines: readonly ArrayLine[];
  /** As the batch system numbers it. */
  readonly job: number;
}

export interface WaitingFrame {
  readonly leadId: number;
  readonly kind: TaskKind;
  readonly frame: number;
}

/** Frames of one camera that are to become arrays. */
export interface Submission {
  readonly leadId: number;
  readonly kind: TaskKind;
  readonly frames: FrameSet;
}

export interface ClusterOrders {
  /** Arrays whose waiting tasks shall not begin any more. */
  readonly cancel: readonly number[];
  readonly hold: readonly number[];
  readonly release: readonly number[];
  readonly setNice: readonly number[];
  /** Tasks (`array_index`) that were taken from their machine: the batch system lets them rest for two minutes, the queue does not. */
  readonly hurry: readonly string[];
  readonly submit: readonly Submission[];
}

/** Why a task waits that was taken from its machine. */
const RESTS = "BeginTime";

/** Frames that the batch system has before it, or in work. */
const coveredBy = ({ shift, lines }: SentArray): FrameSet =>
  unionAll(lines.filter((line) => line.phase !== "over").map((line) => shifted(line.indices, shift)));

const cameraOf = ({ leadId, kind }: { readonly leadId: number; readonly kind: TaskKind }): string =>
  `${leadId} ${kind}`;

/** Waiting frames that nothing has been submitted for, a camera and a kind at a time. */
function uncovered(
  run: SentRun,
  arrays: readonly SentArray[],
  waiting: readonly WaitingFrame[],
): Submission[] {
  const cameras = new Map<string, { leadId: number; kind: TaskKind; frames: number[] }>();
  for (const { leadId, kind, frame } of waiting) {
    const key = cameraOf({ leadId, kind });
    const camera = cameras.get(key) ?? { leadId, kind, frames: [] };
    cameras.set(key, camera);
    camera.frames.push(frame);
  }
  return [...cameras].flatMap(([key, { leadId, kind, frames }]) => {
    const covered = unionAll(arrays.filter((a) => cameraOf(a) === key).map(coveredBy));
    // Light is gathered for a frame, whether it is of the part or lights one that is.
    const outside = run.part === null || kind !== "frame" ? EMPTY : difference(setOf(frames), run.part);
    const left = difference(difference(setOf(frames), covered), outside);
    return left.count === 0 ? [] : [{ leadId, kind, frames: left }];
  });
}

/** @param waiting tasks that could begin now, read after the listing; none while what came back is not to be submitted yet */
export function ordersFor(
  run: SentRun,
  arrays: readonly SentArray[],
  waiting: readonly WaitingFrame[],
): ClusterOrders {
  const jobsWith = (is: (line: ArrayLine) => boolean): number[] =>
    arrays.flatMap(({ job, lines }) => (lines.some(is) ? [job] : []));
  // What is in work hears of a stop with its next heartbeat, as everywhere.
  if (run.state !== "active")
    return {
      cancel: jobsWith(({ phase }) => phase === "waits" || phase === "held"),
      ...{ hold: [], release: [], setNice: [], hurry: [], submit: [] },
    };
  return {
    cancel: [],
    hold: run.mayBegin ? [] : jobsWith(({ phase }) => phase === "waits"),
    release: run.mayBegin ? jobsWith(({ phase }) => phase === "held") : [],
    setNice: jobsWith((line) => (line.phase === "waits" || line.phase === "held") && line.nice !== run.nice),
    hurry: run.mayBegin
      ? arrays.flatMap(({ job, lines }) =>
          lines
            .filter(({ phase, reason }) => phase === "waits" && reason === RESTS)
            .flatMap(({ indices }) => [...members(indices)].map((index) => `${job}_${index}`)),
        )
      : [],
    submit: run.mayBegin ? uncovered(run, arrays, waiting) : [],
  };
}
