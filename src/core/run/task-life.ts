/**
 * The life of a task, the same for every kind. What an event makes of a state; `.` refuses.
 *
 *     state    | lease  finish fail    give-back set-aside retry   drop    take-in come-back
 *     waiting  | leased .      .       .         failed    .       dropped .       done
 *     leased   | leased done   waiting waiting   .         .       .       .       .
 *     done     | .      .      .       .         .         .       .       .       .
 *     failed   | .      .      .       .         .         waiting dropped .       .
 *     dropped  | .      .      .       .         .         .       .       waiting .
 *
 * `lease` of a leased task is a takeover: its lease has run out. `fail` gives the task back for
 * another try; whether it is set aside is judged afterwards (core/review/blame). `drop` takes a task
 * out of its run, `take-in` takes it in again; `come-back` is a frame that was handed out.
 */
export type TaskKind =
  /** A frame, with the passes that it may write. */
  | "frame"
  /** Gathered light, and no picture: the first part of a two-part run. */
  | "light"
  | "check"
  | "scan"
  | "encode";

/** As the column says them. */
export const TASK_STATES = ["waiting", "leased", "done", "failed", "dropped"] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** All that can happen to a task, in the order of the table above. */
export const TASK_EVENTS = [
  "lease",
  "finish",
  "fail",
  "give-back",
  "set-aside",
  "retry",
  "drop",
  "take-in",
  "come-back",
] as const;
export type TaskEvent = (typeof TASK_EVENTS)[number];

/** The table above, row by row; what is missing is refused. */
const LIFE: Readonly<Record<TaskState, Readonly<Partial<Record<TaskEvent, TaskState>>>>> = {
  waiting: { lease: "leased", "set-aside": "failed", drop: "dropped", "come-back": "done" },
  leased: { lease: "leased", finish: "done", fail: "waiting", "give-back": "waiting" },
  done: {},
  failed: { retry: "waiting", drop: "dropped" },
  dropped: { "take-in": "waiting" },
};

/** What an event makes of a task; null refuses. */
export const nextTaskState = (state: TaskState, event: TaskEvent): TaskState | null =>
  LIFE[state][event] ?? null;

/** States that an event may meet: what SQL repeats in its WHERE. */
export const statesBeforeTask = (event: TaskEvent): readonly TaskState[] =>
  TASK_STATES.filter((state) => nextTaskState(state, event) !== null);
