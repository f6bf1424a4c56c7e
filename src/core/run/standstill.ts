/**
 * Why a run that goes on makes nothing at the moment, in the order in which a person would ask: is it held, does
 * it begin later or after another run, may anybody take its frames, and what keeps those who may. Pure; the words are the page's.
 */
import type { AwaitedWhy } from "./awaited";
import type { RunState } from "./run-life";

/** What keeps a node from taking frames. */
export type NodeRest = "paused" | "off-hours" | "set-aside" | "away" | "stopped";

export type Standstill =
  /** What holds it is told by itself, with its figures. */
  | { readonly code: "held" }
  /** @property at milliseconds since 1970 */
  | { readonly code: "begins-later"; readonly at: number }
  /** Another run is to be good first. */
  | ({ readonly code: "awaits" } & Awaited)
  /** No node of those that may take part has ever been here. */
  | { readonly code: "no-node"; readonly wanted: readonly string[] | null }
  /** Nodes that may, each with what keeps it. */
  | {
      readonly code: "nodes-rest";
      readonly nodes: readonly { readonly name: string; readonly rest: NodeRest }[];
    };

/** A run that another one waits for. */
export interface Awaited {
  readonly run: number;
  /** Code. */
  readonly shot: string;
  readonly why: AwaitedWhy;
}

export interface RunAtWork {
  readonly id: number;
  readonly state: RunState;
  readonly isHeld: boolean;
  readonly isHandedOut: boolean;
  /** Milliseconds since 1970; null: at once. */
  readonly startAt: number | null;
  /** Null: it waits for no other run, or for none any more. */
  readonly awaits: Awaited | null;
  /** Names; null: all. */
  readonly nodes: readonly string[] | null;
  /** Frames that wait. */
  readonly left: number;
}

export interface NodeAtWork {
  readonly name: string;
  readonly state: string;
  /** Runs that it takes no frames of, though it works. */
  readonly asideFrom: readonly number[];
}

const RESTS: readonly string[] = ["paused", "off-hours", "set-aside", "away", "stopped"] satisfies NodeRest[];
const isRest = (state: string): state is NodeRest => RESTS.includes(state);

/**
 * @param inWork frames of the run that are rendered now
 * @param nodes all that are known, with their states
 * @param now milliseconds since 1970
 * @returns null where it goes on, or is about to
 */
export function standstillOf(
  run: RunAtWork,
  inWork: number,
  nodes: readonly NodeAtWork[],
  now: number,
): Standstill | null {
  if (run.state !== "active" || run.isHandedOut || run.left === 0) return null;
  if (run.isHeld) return { code: "held" };
  if (inWork > 0) return null;
  if (run.startAt !== null && run.startAt > now) return { code: "begins-later", at: run.startAt };
  if (run.awaits !== null) return { code: "awaits", ...run.awaits };
  const mayTake = nodes.filter((n) => run.nodes === null || run.nodes.includes(n.name));
  if (mayTake.length === 0) return { code: "no-node", wanted: run.nodes };
  const resting = mayTake.flatMap(({ name, state, asideFrom }) =>
    isRest(state)
      ? [{ name, rest: state }]
      : asideFrom.includes(run.id)
        ? [{ name, rest: "set-aside" as const }]
        : [],
  );
  if (resting.length < mayTake.length) return null;
  // Who is only away comes back; those that ended long ago are not worth a name beside them.
  const near = resting.filter((n) => n.rest !== "stopped");
  return { code: "nodes-rest", nodes: near.length > 0 ? near : resting };
}
