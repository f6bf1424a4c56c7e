/**
 * Whether a process may work under a node's name that another one has worked under. A number of a process means
 * something on its own host alone, and only with a fresh sign of life: after a power cut the same number is
 * somebody else's, and in containers every process is number 1. Pure; the row is read under its lock.
 */
import type { NodeRow } from "../store/nodes";

/** Whoever wants the name. */
export interface Claimant {
  readonly host: string;
  readonly pid: number;
  /** A sign of life that is older says nothing. */
  readonly freshSeconds: number;
  readonly isAlive: (pid: number) => boolean;
}

/** `look-again`: only another sign of life can tell; see LOOK_AGAIN_SECONDS. */
export type NameVerdict = "free" | "taken" | "look-again";

/** Several heartbeats: whoever lives has shown itself by then. */
export const LOOK_AGAIN_SECONDS = 3;

/** @param isSecondLook it was looked LOOK_AGAIN_SECONDS ago, and could not be told */
export function judgeName(
  holder: Pick<NodeRow, "stopped" | "secondsSinceSeen" | "host" | "pid">,
  claimant: Claimant,
  isSecondLook: boolean,
): NameVerdict {
  if (holder.stopped || holder.secondsSinceSeen >= claimant.freshSeconds) return "free";
  if (holder.host !== claimant.host) return "taken";
  if (holder.pid !== claimant.pid) return claimant.isAlive(holder.pid) ? "taken" : "free";
  // Our own number: the one before us in this container, or another container of the same host name.
  if (!isSecondLook) return "look-again";
  return holder.secondsSinceSeen < LOOK_AGAIN_SECONDS ? "taken" : "free";
}
