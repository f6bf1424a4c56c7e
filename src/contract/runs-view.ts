/** Runs over all shots as the page Runs shows them, and what is done to several at once. */
import { BOUNDS, ID } from "./bounds";
import { PRIORITIES, type Priority } from "./run-manner";
import type { RunView } from "./run-view";
import { checker, objectOf } from "./validate";

export interface HouseRunView {
  /** Its name in addresses. */
  readonly project: string;
  /** Code. */
  readonly shot: string;
  readonly title: string;
  readonly run: RunView;
}

export interface HouseRunsView {
  /** In the order in which they get nodes: core/run/queue-order. */
  readonly open: readonly HouseRunView[];
  /** Stopped with frames left, and those that ended lately, the newest first. */
  readonly ended: readonly HouseRunView[];
}

/** What may be done to several runs at once. */
export const RUN_DEEDS = ["stop", "stop-now", "go-on", "priority", "place"] as const;
export type RunDeed = (typeof RUN_DEEDS)[number];

export interface ChangeRunsBody {
  readonly runs: readonly number[];
  readonly what: RunDeed;
  /** Of `priority` alone. */
  readonly priority?: Priority;
  /** Of `place` alone: the run that they are put before; left out or null: the end. */
  readonly before?: number | null;
}

/** One that cannot be done does not keep the others from it. */
export interface ChangedRunsView {
  readonly refused: readonly { readonly run: number; readonly message: string }[];
}

export const checkChangeRuns = checker<ChangeRunsBody>(
  objectOf<ChangeRunsBody>(
    {
      runs: { type: "array", items: ID, minItems: 1, maxItems: BOUNDS.runsAtOnce, uniqueItems: true },
      what: { enum: RUN_DEEDS },
      priority: { enum: PRIORITIES },
      before: { anyOf: [{ type: "null" }, ID] },
    },
    ["runs", "what"],
  ),
);
