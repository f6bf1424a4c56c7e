/**
 * What a person decides of nodes.
 * Decisions are written and nothing is waited for: the node hears with its next heartbeat, also one that is
 * away now.
 */
import type { NodeSettings } from "@/contract/node-settings";
import type { Who } from "@/contract/who";
import type { Pause } from "@/contract/run-manner";
import { STAND_IN } from "@/core/plan/renderer";
import { declaredRenderers } from "../configuration";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { askToPutBack } from "../queue/lease";
import { forgetOpenQueue } from "../queue/open-runs";
import { saveRendererLimit } from "../store/renderer-limits";
import { letIn, setNodeAside } from "../store/asides";
import { noteDeed } from "../store/deeds";
import { appendEvent } from "../store/events";
import { lockNode, saveHousePause, saveNodeSettings } from "../store/nodes";

/**
 * Changes what a node may take of its machine: hours, cores, niceness, pause. The node hears it with its next
 * heartbeat, within a second, also in the middle of a frame.
 * @throws TallyError `node-unknown` where no node of that name ever worked here
 */
export async function directNode(
  name: string,
  change: Partial<NodeSettings>,
  who: Who = null,
): Promise<void> {
  await transact(async (tx) => {
    const id = await saveNodeSettings(tx, name, change);
    if (id === null) throw new TallyError("node-unknown", { name });
    await noteDeed(tx, who, change.pause === undefined ? "change" : "pause", { nodeId: id });
    await appendEvent(tx, "node");
  });
}

/**
 * Somebody trusts a node no more. What it renders just now it ends.
 * @throws TallyError `node-unknown`
 */
export async function setNodeAsideByHand(name: string, why: string, who: Who = null): Promise<void> {
  await transact(async (tx) => {
    const node = await lockNode(tx, name);
    if (node === null) throw new TallyError("node-unknown", { name });
    await setNodeAside(tx, node.id, null, { code: "by-hand", why, who });
    await noteDeed(tx, who, "set-aside", { nodeId: node.id }, why);
    await appendEvent(tx, "node");
  });
}

/** Somebody trusts a node again: what it failed on before counts no more. */
export async function letNodeIn(asideId: number, who: Who = null): Promise<void> {
  await transact(async (tx) => {
    const nodeId = await letIn(tx, asideId);
    if (nodeId === null) throw new TallyError("node-let-in");
    await noteDeed(tx, who, "let-in", { nodeId });
    await appendEvent(tx, "node");
  });
}

/** Pauses every node of the house, or lets them go on. A node's own pause stays as it is beneath. */
export async function pauseAll(pause: Pause, who: Who = null): Promise<void> {
  await transact(async (tx) => {
    await saveHousePause(tx, pause);
    await noteDeed(tx, who, "pause", {});
    await appendEvent(tx, "node");
  });
}

/**
 * As many frames of a renderer as there are licences are in work at once, over all nodes. Those that are in work end.
 * @throws TallyError `renderer-unknown` where nothing here declares it
 */
export async function limitRenderer(renderer: string, most: number | null, who: Who = null): Promise<void> {
  if (renderer !== STAND_IN && !Object.hasOwn(declaredRenderers(), renderer))
    throw new TallyError("renderer-unknown", { renderer });
  await transact(async (tx) => {
    await saveRendererLimit(tx, renderer, most);
    await noteDeed(tx, who, "change", {});
    await appendEvent(tx, "node");
  });
  forgetOpenQueue(pool());
}

/** A frame in work is saved and given back by its node, and then waits behind the others of its run. */
export async function putBack(runId: number, leadId: number, frame: number, who: Who = null): Promise<void> {
  await transact(async (tx) => {
    if (!(await askToPutBack(tx, runId, leadId, frame))) throw new TallyError("frame-not-in-work", { frame });
    await noteDeed(tx, who, "put-back", { runId });
  });
}
