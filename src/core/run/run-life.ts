/**
 * The life of a run. What an event makes of a state; `.` refuses.
 *
 *     state    | stop-after-these stop-now nothing-left nothing-in-work go-on
 *     active   | stopping         halting  done         .               .
 *     stopping | stopping         halting  done         stopped         active
 *     halting  | .                .        done         stopped         active
 *     stopped  | .                .        .            .               active
 *     done     | .                .        .            .               active
 *
 * A run that stops now (`halting`) waits until what is in work has been saved and given back. A run
 * that is done goes on when frames that were set aside are tried again, or frames are added.
 */
export const RUN_STATES = ["active", "stopping", "halting", "stopped", "done"] as const;
export type RunState = (typeof RUN_STATES)[number];

/** All that can happen to a run, in the order of the table above. */
export const RUN_EVENTS = [
  "stop-after-these",
  "stop-now",
  "nothing-left",
  "nothing-in-work",
  "go-on",
] as const;
export type RunEvent = (typeof RUN_EVENTS)[number];

/** The table above, row by row; what is missing is refused. */
const LIFE: Readonly<Record<RunState, Readonly<Partial<Record<RunEvent, RunState>>>>> = {
  active: { "stop-after-these": "stopping", "stop-now": "halting", "nothing-left": "done" },
  stopping: {
    "stop-after-these": "stopping",
    "stop-now": "halting",
    "nothing-left": "done",
    "nothing-in-work": "stopped",
    "go-on": "active",
  },
  halting: { "nothing-left": "done", "nothing-in-work": "stopped", "go-on": "active" },
  stopped: { "go-on": "active" },
  done: { "go-on": "active" },
};

/** What an event makes of a run; null refuses. */
export const nextRunState = (state: RunState, event: RunEvent): RunState | null => LIFE[state][event] ?? null;

/** Frames of it may be in work. */
export const goesOn = (state: RunState): boolean =>
  state === "active" || state === "stopping" || state === "halting";
