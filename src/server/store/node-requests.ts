/** Questions to nodes, answered from their heartbeat: also while they render. */
import type { AnswerTo, NodeQuestion } from "@/contract/node-request";
import { type Db, fromJson, rows, write, marks } from "../db/rows";

const KEPT_MINUTES = 10;

/**
 * Puts a question to a node. Old questions are thrown out on the way, so that the table stays short without a
 * keeper of its own.
 * @returns id to ask for the answer with (answersTo)
 */
export async function askNode(db: Db, nodeId: number, question: NodeQuestion): Promise<number> {
  await write(db, `DELETE FROM node_request WHERE asked_at < NOW(3) - INTERVAL ${KEPT_MINUTES} MINUTE`);
  return (
    await write(db, "INSERT INTO node_request (node_id, question) VALUES (?, ?)", [
      nodeId,
      JSON.stringify(question),
    ])
  ).id;
}

/** What a node has been asked and has not answered, oldest first. */
export const openQuestions = async (
  db: Db,
  nodeId: number,
): Promise<{ id: number; question: NodeQuestion }[]> =>
  (
    await rows<{ id: number; question: unknown }>(
      db,
      `SELECT id, question
        FROM node_request
        WHERE node_id = ? AND answered_at IS NULL
        ORDER BY id`,
      [nodeId],
    )
  ).map((r) => ({ id: r.id, question: fromJson<NodeQuestion>(r.question) }));

/**
 * Keeps a node's answer. A question that was thrown out meanwhile matches no row: nobody waits for it any
 * more.
 */
export async function answerQuestion<Q extends NodeQuestion>(
  db: Db,
  id: number,
  answer: AnswerTo<Q>,
): Promise<void> {
  await write(db, "UPDATE node_request SET answer = ?, answered_at = NOW(3) WHERE id = ?", [
    JSON.stringify(answer),
    id,
  ]);
}

/**
 * Answers that have come in, by question. What is missing is not answered yet: silence is never taken for a
 * no.
 * @template Q the kind of question that the ids are of
 */
export async function answersTo<Q extends NodeQuestion>(
  db: Db,
  ids: readonly number[],
): Promise<Map<number, AnswerTo<Q>>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: number; answer: unknown }>(
    db,
    `SELECT id, answer
      FROM node_request
      WHERE answered_at IS NOT NULL AND id IN ${marks(ids)}`,
    [...ids],
  );
  return new Map(found.map((r) => [r.id, fromJson<AnswerTo<Q>>(r.answer)]));
}
