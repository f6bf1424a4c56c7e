/** Nodes as a person sees and directs them. */
import type { NodesView } from "@/contract/views";
import type { NodeSettings } from "@/contract/node-settings";
import type { Pause } from "@/contract/run-state";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { nodeState } from "../http/live";
import { askToPutBack } from "../queue/lease";
import { letIn, openAsides } from "../store/asides";
import { appendEvent } from "../store/events";
import { listNodes, saveHousePause, saveNodeSettings, settingsOfNodes } from "../store/nodes";
import { attemptsOfNodesToday, listRendering } from "../store/runs";

export async function viewNodes(): Promise<NodesView> {
  const [nodes, orders, asides, rendering, today] = await Promise.all([
    listNodes(pool()),
    settingsOfNodes(pool()),
    openAsides(pool()),
    listRendering(pool()),
    attemptsOfNodesToday(pool()),
  ]);
  return {
    pause: [...orders.values()][0]?.housePause ?? "no",
    nodes: nodes.map((node) => {
      const { pause, cores, nice, memoryMb, hours } = orders.get(node.id)!;
      const own = asides.filter((a) => a.nodeId === node.id);
      const counts = today.find((t) => t.nodeId === node.id);
      return {
        name: node.name,
        host: node.host,
        state: nodeState(
          node,
          orders.get(node.id),
          rendering.some((r) => r.node === node.name),
          own.some((a) => a.runId === null),
        ),
        pause,
        cores,
        nice,
        memoryMb,
        hours,
        made: counts?.made ?? 0,
        failed: counts?.failed ?? 0,
        asides: own.map(({ id, runId, shot, reason, at }) => ({ id, runId, shot, reason, at: at.getTime() })),
      };
    }),
  };
}

export async function directNode(name: string, change: Partial<NodeSettings>): Promise<void> {
  await transact(async (tx) => {
    if (!(await saveNodeSettings(tx, name, change)))
      throw new TallyError("node-unknown", `There is no node named ${name}.`);
    await appendEvent(tx, "node");
  });
}

/** Somebody trusts a node again: what it failed on before counts no more. */
export async function letNodeIn(asideId: number): Promise<void> {
  await transact(async (tx) => {
    if (!(await letIn(tx, asideId)))
      throw new TallyError("node-let-in", "This node was let in again already.");
    await appendEvent(tx, "node");
  });
}

export async function pauseAll(pause: Pause): Promise<void> {
  await transact(async (tx) => {
    await saveHousePause(tx, pause);
    await appendEvent(tx, "node");
  });
}

/** A frame in work is saved and given back by its node, and then waits behind the others of its run. */
export async function putBack(runId: number, leadId: number, frame: number): Promise<void> {
  if (!(await askToPutBack(pool(), runId, leadId, frame)))
    throw new TallyError("frame-not-in-work", `Frame ${frame} is not in work any more.`);
}
