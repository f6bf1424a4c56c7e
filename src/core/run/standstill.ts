/**
 * Why a run that goes on makes nothing at the moment, in the order in which a person would ask: is it held, does
 * it begin later or after another run, may anybody take its frames, and what keeps those who may. Pure; the words are the page's.
 */
import type { AwaitedWhy } from "./awaited";
import type { RunState } from "./run-life";
import { mayTake } from "./who-takes";

/** What keeps a node from taking frames. */
export type NodeRest = "paused" | "off-hours" | "set-aside" | "away" | "stopped";

export type Standstill =
  /** What holds it is told by itself, with its figures. */
  | { readonly code: "held" }
  /** @property at milliseconds since 1970 */
  | { readonly code: "begins-later"; readonly at: number }
  /** Another run is to be good first. */
  | ({ readonly code: "awaits" } & Awaited)
  /** Other runs have all of its renderer's frames that may be in work at once. */
  | ({ readonly code: "at-limit" } & Omit<RendererLimit, "inWork">)
  /** It is with a batch system, whose machines have not come to it; `reason` in its own word. */
  | ({ readonly code: "in-array" } & Omit<RunInArrays, "works">)
  /** No node of those that may take part has ever been here. */
  | { readonly code: "no-node"; readonly wanted: readonly string[] | null }
  /** Nodes that may, each with what keeps it. */
  | {
      readonly code: "nodes-rest";
      readonly nodes: readonly { readonly name: string; readonly rest: NodeRest }[];
    };

/** How many frames of a renderer may be in work at once, over all runs and nodes. */
export interface RendererLimit {
  readonly renderer: string;
  readonly atOnce: number;
  /** Now. */
  readonly inWork: number;
}

/** What a batch system has of a run, and has not begun. */
export interface RunInArrays {
  /** Their numbers. */
  readonly jobs: readonly number[];
  /** Tasks that begin, or end: they have no frame in work at this moment. */
  readonly works: number;
  readonly reason: string | null;
  /** Why it takes no more of it; null: it does. */
  readonly fault: string | null;
}

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
  /** Null: it is with no batch system. */
  readonly dispatch: RunInArrays | null;
  /** Null: as many of its renderer as nodes take. */
  readonly limit: RendererLimit | null;
}

export interface NodeAtWork {
  readonly name: string;
  readonly groups: readonly string[];
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
  const takers = nodes.filter((n) => n.state !== "on-call" && mayTake(run.nodes, n));
  if (run.dispatch !== null && run.dispatch.works > 0) return null;
  const inArray =
    run.dispatch === null
      ? null
      : ({
          code: "in-array",
          jobs: run.dispatch.jobs,
          reason: run.dispatch.reason,
          fault: run.dispatch.fault,
        } as const);
  if (takers.length === 0) return inArray ?? { code: "no-node", wanted: run.nodes };
  const resting = takers.flatMap(({ name, state, asideFrom }) =>
    isRest(state)
      ? [{ name, rest: state }]
      : asideFrom.includes(run.id)
        ? [{ name, rest: "set-aside" as const }]
        : [],
  );
  if (resting.length < takers.length)
    return run.limit !== null && run.limit.inWork >= run.limit.atOnce
      ? { code: "at-limit", renderer: run.limit.renderer, atOnce: run.limit.atOnce }
      : null;
  if (inArray !== null) return inArray;
  // Who is only away comes back; those that ended long ago are not worth a name beside them.
  const near = resting.filter((n) => n.rest !== "stopped");
  return { code: "nodes-rest", nodes: near.length > 0 ? near : resting };
}
