/** Nodes as a person sees and directs them. */
import type { NodesView } from "@/contract/api";
import type { NodeSettings } from "@/contract/node-settings";
import type { Pause } from "@/contract/run-state";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { nodeState } from "../http/live";
import { askToPutBack } from "../queue/lease";
import { appendEvent } from "../store/events";
import { listNodes, saveHousePause, saveNodeSettings, settingsOfNodes } from "../store/nodes";
import { attemptsOfNodesToday, listRendering } from "../store/runs";

export async function viewNodes(): Promise<NodesView> {
  const [nodes, orders, rendering, today] = await Promise.all([listNodes(pool()), settingsOfNodes(pool()), listRendering(pool()), attemptsOfNodesToday(pool())]);
  return {
    pause: [...orders.values()][0]?.housePause ?? "no",
    nodes: nodes.map((node) => {
      const { pause, cores, nice, hours } = orders.get(node.id)!;
      const counts = today.find((t) => t.nodeId === node.id);
      return { name: node.name, host: node.host, state: nodeState(node, orders.get(node.id), rendering.some((r) => r.node === node.name)), pause, cores, nice, hours, made: counts?.made ?? 0, failed: counts?.failed ?? 0 };
    }),
  };
}

export async function directNode(name: string, change: Partial<NodeSettings>): Promise<void> {
  await transact(async (tx) => {
    if (!(await saveNodeSettings(tx, name, change))) throw new TallyError("node-unknown", `There is no node named ${name}.`);
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
  if (!(await askToPutBack(pool(), runId, leadId, frame))) throw new TallyError("frame-not-in-work", `Frame ${frame} is not in work any more.`);
}
