/** Puts a question to nodes and waits for those that answer soon. */
import { setTimeout as pause } from "node:timers/promises";
import type { AnswerTo, NodeQuestion } from "@/contract/node-request";
import { pool } from "../db/pool";
import { answersTo, askNode } from "../store/node-requests";
import type { NodeRow } from "../store/nodes";

/** Nodes answer with their heartbeat, every 0.7 s; hashing large textures takes longer. */
const PATIENCE_MS = 6_000;
/** Between two looks for answers of nodes. */
const LOOK_MS = 100;

/** @returns an answer a node, null of those that are silent: silence is never taken for a no */
export async function askAll<Q extends NodeQuestion>(
  nodes: readonly Pick<NodeRow, "id" | "name">[],
  question: Q,
): Promise<readonly { readonly node: string; readonly answer: AnswerTo<Q> | null }[]> {
  const asked = new Map<number, string>();
  for (const node of nodes) asked.set(await askNode(pool(), node.id, question), node.name);
  const deadline = performance.now() + PATIENCE_MS;
  let answers = await answersTo<Q>(pool(), [...asked.keys()]);
  while (answers.size < asked.size && performance.now() < deadline) {
    await pause(LOOK_MS);
    answers = await answersTo<Q>(pool(), [...asked.keys()]);
  }
  return [...asked].map(([id, node]) => ({ node, answer: answers.get(id) ?? null }));
}
