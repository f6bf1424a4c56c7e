/**
 * The life of a handover. What an event makes of a state; `.` refuses.
 *
 *     state    | begin   lease  finish fail   give-back stop
 *     awaiting | waiting .      .      failed .         stopped
 *     waiting  | .       leased .      .      .         stopped
 *     leased   | .       leased done   failed waiting   stopped
 *     done     | .       .      .      .      .         .
 *     failed   | .       .      .      .      .         .
 *     stopped  | .       .      .      .      .         .
 *
 * `awaiting` is one that follows a run. `lease` of a leased one is a takeover: its lease has run out. What is over stays
 * as it is: to make it again is another handover.
 */
export const HANDOVER_STATES = ["awaiting", "waiting", "leased", "done", "failed", "stopped"] as const;
export type HandoverState = (typeof HANDOVER_STATES)[number];

export const HANDOVER_EVENTS = ["begin", "lease", "finish", "fail", "give-back", "stop"] as const;
export type HandoverEvent = (typeof HANDOVER_EVENTS)[number];

const LIFE: Readonly<Record<HandoverState, Readonly<Partial<Record<HandoverEvent, HandoverState>>>>> = {
  awaiting: { begin: "waiting", fail: "failed", stop: "stopped" },
  waiting: { lease: "leased", stop: "stopped" },
  leased: { lease: "leased", finish: "done", fail: "failed", "give-back": "waiting", stop: "stopped" },
  done: {},
  failed: {},
  stopped: {},
};

/** What an event makes of a handover; null refuses. */
export const nextHandoverState = (state: HandoverState, event: HandoverEvent): HandoverState | null =>
  LIFE[state][event] ?? null;

/** States that an event may meet: what SQL repeats in its WHERE. */
export const statesBeforeHandover = (event: HandoverEvent): readonly HandoverState[] =>
  HANDOVER_STATES.filter((state) => nextHandoverState(state, event) !== null);

/** Somebody waits for it. */
export const isUnderWay = (state: HandoverState): boolean => state === "waiting" || state === "leased";

/** Nothing becomes of it any more. */
export const isOver = (state: HandoverState): boolean =>
  HANDOVER_EVENTS.every((event) => nextHandoverState(state, event) === null);
