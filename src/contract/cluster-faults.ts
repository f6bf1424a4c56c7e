/** Faults of frames and runs that a batch system works on. */
import type { TaskEndWhy } from "@/core/cluster/task-end";
import { conflict, house, render, takenAway, wrong } from "./fault-kinds";

export const CLUSTER_FAULTS = {
  "cluster-not-declared": conflict(
    "No batch system is named here. Put `cluster` into plain-tally.config.json; the guide says how.",
  ),
  "cluster-silent": house<{ why: string }>(({ why }) => `The batch system does not answer: ${why}`),
  "cluster-refused": wrong<{ why: string }>(({ why }) => `The batch system did not take it: ${why}`),
  "run-not-sent": conflict("This run is not with the batch system."),
  "run-sent": conflict("This run is with the batch system already; take it back first."),
  "run-frames-not-in": wrong<{ frames: string }>(
    ({ frames }) => `This run does not wait for these frames: ${frames}.`,
  ),
  "node-name-stays": conflict<{ name: string }>(
    ({ name }) => `A node that stays works under the name ${name}; give tasks of this machine another one.`,
  ),
  "once-needs-frame": wrong("--once makes one frame of a run: say --run and --frame."),
  "once-not-in-run": wrong<{ run: number; frame: number; times: number }>(({ run, frame, times }) =>
    times === 0
      ? `Run ${run} has no frame ${frame}.`
      : `Run ${run} has ${times} frames ${frame}, of several cameras or versions: say --sequence, too.`,
  ),
  "cluster-time": takenAway("The batch system ended it at its time limit."),
  "cluster-node": takenAway("The batch system lost the machine that it was on."),
  "cluster-preempted": takenAway("The batch system gave its machine to a job that goes before."),
  "cluster-memory": render("The batch system ended it, as it used more memory than it may."),
  "cluster-broke": render("The task of the batch system ended before its frame was made."),
};

/** What an attempt failed of, whose task the batch system has ended. */
export const CLUSTER_ENDS = {
  time: "cluster-time",
  memory: "cluster-memory",
  node: "cluster-node",
  preempted: "cluster-preempted",
  broke: "cluster-broke",
} as const satisfies Record<TaskEndWhy, keyof typeof CLUSTER_FAULTS>;
