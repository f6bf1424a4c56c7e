/** Nodes that may take frames now: heard of lately, willing by their own word, and not set aside. */
import type { PlannedNode } from "@/core/estimate/node-slots";
import { type GroupedNode, mayTake } from "@/core/run/who-takes";
import { type Db, rows } from "../db/rows";
import { readGroups } from "../store/nodes";

/** Not heard of for so long, a node counts as away: half a lease. */
export const AWAY_SECONDS = 12.5;

export interface Taker extends PlannedNode, GroupedNode {
  readonly id: number;
}

export interface Takers {
  /** Heard of lately and not paused. */
  readonly willing: readonly Taker[];
  /** Of one run, or (null) of all. */
  readonly asides: readonly { readonly nodeId: number; readonly runId: number | null }[];
}

/** By the database's clock alone: clocks of machines differ. */
export async function readTakers(db: Db): Promise<Takers> {
  const [willing, asides] = await Promise.all([
    rows<Omit<Taker, "groups"> & { readonly inGroups: unknown }>(
      db,
      `SELECT id, name, cores, host, processors, in_groups AS inGroups
        FROM node
        WHERE stopped_at IS NULL AND takes = 1 AND seen_at > NOW(3) - INTERVAL ? SECOND
        ORDER BY name`,
      [AWAY_SECONDS],
    ),
    rows<{ nodeId: number; runId: number | null }>(
      db,
      "SELECT node_id AS nodeId, run_id AS runId FROM node_aside WHERE let_in_at IS NULL",
    ),
  ]);
  return {
    willing: willing.map(({ inGroups, ...node }) => ({ ...node, groups: readGroups(inGroups) })),
    asides,
  };
}

/** Whether a node is set aside for a run, or for all. */
export const isAside = ({ asides }: Takers, nodeId: number, runId: number): boolean =>
  asides.some((a) => a.nodeId === nodeId && (a.runId === null || a.runId === runId));

/** Who may take frames of a run now. */
export const takersOfRun = (
  takers: Takers,
  run: { readonly id: number; readonly nodes: readonly string[] | null },
): Taker[] => takers.willing.filter((t) => mayTake(run.nodes, t) && !isAside(takers, t.id, run.id));

/**
 * Whether a node may take frames of a run, also one that was not heard of lately: a node asks for itself.
 * @param takers that it is among where it was; what groups it is in is known of those alone
 */
export const mayTakeOf = (
  takers: Takers,
  node: { readonly id: number; readonly name: string },
  run: { readonly id: number; readonly nodes: readonly string[] | null },
): boolean => {
  const groups = takers.willing.find((t) => t.id === node.id)?.groups ?? [];
  return mayTake(run.nodes, { name: node.name, groups }) && !isAside(takers, node.id, run.id);
};
