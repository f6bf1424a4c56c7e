/** A renderer is tried: one node renders one frame of one scene, beside everything else. */
import type { StartedTry, TryBody, TryView } from "@/contract/settings-view";
import type { TryQuestion } from "@/contract/node-request";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { AWAY_SECONDS } from "../queue/takers";
import { offerOfRenderer } from "../scenes/renderers";
import { requireProject } from "../store/find-shot";
import { answersTo, askNode } from "../store/node-requests";
import { listNodes } from "../store/nodes";

/**
 * @returns a number to ask for the answer with
 * @throws TallyError `node-unknown`, `node-silent`, `renderer-unknown`, `project-unknown`
 */
export async function startTry({ node, project, ...wish }: TryBody): Promise<StartedTry> {
  offerOfRenderer(wish.renderer);
  const { root, folder } = await requireProject(project);
  const found = (await listNodes(pool())).find((n) => n.name === node);
  if (found === undefined) throw new TallyError("node-unknown", { name: node }).at("node");
  if (found.stopped || found.secondsSinceSeen >= AWAY_SECONDS)
    throw new TallyError("node-silent", { name: node }).at("node");
  const question: TryQuestion = { kind: "try", root, folder, ...wish };
  return { id: await askNode(pool(), found.id, question) };
}

/** What came of it so far. */
export const viewTry = async (id: number): Promise<TryView> => ({
  answer: (await answersTo<TryQuestion>(pool(), [id])).get(id) ?? null,
});
