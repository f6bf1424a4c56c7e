/** Nodes and what they have in work, as the pages show them. */
import { AWAY_SECONDS } from "../queue/takers";
import { type NodeOrders, type NodeRow, listNodes, settingsOfNodes } from "../store/nodes";
import { pool } from "../db/pool";
import { lastPauses } from "../store/deeds";
import { type AsideRow, openAsides } from "../store/asides";
import { likelyAttemptSeconds, type MadeFrame } from "@/core/estimate/expected";
import { versionName } from "@/core/plan/plan";
import { listRendering, type RenderingRow } from "../store/tasks";
import { attemptsOfNodesToday, madeFrames } from "../store/attempts";
import type { NodeView, NodesView } from "@/contract/node-view";
import type { RenderingView } from "@/contract/live";

/** @param orders what is decided of it
 * @param isAside from every run
 */
export function nodeState(
  node: NodeRow,
  orders: NodeOrders | undefined,
  isRendering: boolean,
  isAside: boolean,
): NodeView["state"] {
  const isOfArrays = node.machine !== null;
  if (node.stopped && !isOfArrays) return "stopped";
  if (node.secondsSinceSeen > AWAY_SECONDS && !isOfArrays) return "away";
  if (isRendering) return "at-work";
  if (isAside) return "set-aside";
  if (orders !== undefined && (orders.pause !== "no" || orders.housePause !== "no")) return "paused";
  if (isOfArrays) return "on-call";
  return node.takes ? "idle" : "off-hours";
}

/** Runs that a node is set aside from. */
export const asideFrom = (node: NodeRow, asides: readonly AsideRow[]): number[] =>
  asides.flatMap((a) => (a.nodeId === node.id && a.runId !== null ? [a.runId] : []));

/** Every node with what it does now, what it did today, and what keeps it from taking frames. */
export async function viewNodes(): Promise<NodesView> {
  const [nodes, orders, asides, rendering, today, pauses] = await Promise.all([
    listNodes(pool()),
    settingsOfNodes(pool()),
    openAsides(pool()),
    listRendering(pool()),
    attemptsOfNodesToday(pool()),
    lastPauses(pool()),
  ]);
  return {
    pause: [...orders.values()][0]?.housePause ?? "no",
    pausedBy: pauses.get(0) ?? null,
    nodes: nodes.map((node) => {
      const { pause, cores, nice, memoryMb, hours, groups } = orders.get(node.id)!;
      const own = asides.filter((a) => a.nodeId === node.id);
      const counts = today.find((t) => t.nodeId === node.id);
      return {
        name: node.name,
        host: node.host,
        processors: node.processors,
        isCalled: node.machine !== null,
        state: nodeState(
          node,
          orders.get(node.id),
          rendering.some((r) => r.node === node.name),
          own.some((a) => a.runId === null),
        ),
        asideFrom: asideFrom(node, asides),
        pause,
        cores,
        nice,
        memoryMb,
        hours,
        groups,
        made: counts?.made ?? 0,
        failed: counts?.failed ?? 0,
        pausedBy: pauses.get(node.id) ?? null,
        asides: own.map(({ id, runId, shot, reason, at }) => ({ id, runId, shot, reason, at: at.getTime() })),
      };
    }),
  };
}

/** Frames in work, with what the frames beside them took. */
export async function viewRendering(rendering: readonly RenderingRow[]): Promise<RenderingView[]> {
  const made = new Map<string, Promise<readonly MadeFrame[]>>();
  const madeBeside = ({ runId, sequenceId }: RenderingRow): Promise<readonly MadeFrame[]> => {
    const key = `${runId}/${sequenceId}`;
    const known = made.get(key) ?? madeFrames(pool(), runId, sequenceId);
    made.set(key, known);
    return known;
  };
  return Promise.all(
    rendering.map(async (r) => {
      const expected = r.isLight === 1 ? null : likelyAttemptSeconds(r.frame, await madeBeside(r));
      return {
        runId: r.runId,
        project: r.project,
        shot: r.shot,
        version: versionName(r),
        isProof: r.isProof === 1,
        isLight: r.isLight === 1,
        sequenceId: r.sequenceId,
        frame: r.frame,
        node: r.node,
        progress: r.progress ?? 0,
        seconds: Math.round(r.seconds),
        expectedSeconds: expected === null ? null : Math.round(expected),
      };
    }),
  );
}
