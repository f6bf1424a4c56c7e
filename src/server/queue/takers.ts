/** Nodes that may take frames now: heard of lately, willing by their own word, and not set aside. */
import type { PlannedNode } from "@/core/estimate/node-slots";
import { type Db, rows } from "../db/rows";

/** Not heard of for so long, a node counts as away: half a lease. */
export const AWAY_SECONDS = 12.5;

export interface Taker extends PlannedNode {
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
    rows<Taker>(
      db,
      `SELECT id, name, cores, host, processors
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
  return { willing, asides };
}

/** Whether a node is set aside for a run, or for all. */
export const isAside = ({ asides }: Takers, nodeId: number, runId: number): boolean =>
  asides.some((a) => a.nodeId === nodeId && (a.runId === null || a.runId === runId));

/** Who may take frames of a run now. */
export const takersOfRun = (
  takers: Takers,
  run: { readonly id: number; readonly nodes: readonly string[] | null },
): Taker[] =>
  takers.willing.filter(
    (t) => (run.nodes === null || run.nodes.includes(t.name)) && !isAside(takers, t.id, run.id),
  );
