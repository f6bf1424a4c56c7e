/**
 * A node proves that it can write into a version, sees every file a scene needs, byte for byte, and has the
 * renderer.
 * Content is compared by hash, and a test file is written, flushed and removed: what a share says of itself
 * is not believed.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { HouseQuestion, ReadyAnswer, ReadyQuestion, TryQuestion } from "@/contract/node-request";
import type { Pool } from "../db/pool";
import { fileHash } from "../files/content";
import { insideFolder, projectFolder } from "../files/paths";
import { whyOutOfSight } from "../files/project-mark";
import { answerQuestion, openQuestions } from "../store/node-requests";
import type { Engine } from "../engines/engine";
import { seeHouse, tryWriting } from "./house-answer";
import { tryRenderer } from "./try-renderer";
import type { NodeFaults } from "./faults";
import { readyFile } from "../files/layout";
import { rendererFault } from "./renderer-proof";

/** Proves that frames can be written. */
async function tryWritingFrames(folder: string, node: string): Promise<string | null> {
  const file = readyFile(folder, node);
  try {
    await fs.mkdir(path.dirname(file), { recursive: true });
  } catch (error) {
    return (error as NodeJS.ErrnoException).code ?? (error as Error).message;
  }
  return tryWriting(file, node);
}

/** Looks itself, with its own rights, at its own mount: what another machine sees says nothing. */
export async function proveReadiness(
  question: ReadyQuestion,
  node: string,
  faults: NodeFaults,
): Promise<ReadyAnswer> {
  let project: string;
  try {
    project = projectFolder(question);
    // Never made here: below the place of a share that is gone, frames would go to this machine's own disk.
    const why = await whyOutOfSight(question);
    if (why !== null) throw new Error(`${project} cannot be seen: ${why}`);
  } catch (error) {
    return {
      cannotWrite: (error as Error).message,
      missing: question.files.map((f) => f.name),
      different: [],
      renderers: [],
    };
  }
  const missing: string[] = [];
  const different: string[] = [];
  const hidden = faults.seesNot(question.files.map((f) => f.name));
  for (const { path: relative, name, content } of question.files) {
    const seen = hidden.includes(name)
      ? null
      : await fileHash(await insideFolder(project, relative)).catch(() => null);
    if (seen === null) missing.push(name);
    else if (seen !== content) different.push(name);
  }
  // Where nothing of the project is there, a share is gone: writing would make folders on this machine's own
  // disk.
  const cannotWrite =
    missing.length > 0 && missing.length === question.files.length
      ? `nothing of the project is in ${project}`
      : await tryWritingFrames(await insideFolder(project, question.version), node);
  const proofs = await Promise.all(question.renderers.map(rendererFault));
  return { cannotWrite, missing, different, renderers: proofs.filter((fault) => fault !== null) };
}

/** Tries of renderers in work, by question: they take their time, and the heartbeat goes on beside them. */
const tries = new Set<number>();

/** Answers when the picture is there; meanwhile no second one of the same question begins. */
function beginTry(pool: Pool, id: number, question: TryQuestion, makeEngine: () => Engine): void {
  if (tries.has(id)) return;
  tries.add(id);
  void tryRenderer(question, makeEngine())
    .then((answer) => answerQuestion<TryQuestion>(pool, id, answer))
    // Asked again with the next heartbeat, where the database was away.
    .catch(() => undefined)
    .finally(() => tries.delete(id));
}

/** With each heartbeat, so that a preflight does not wait for a frame to end. */
export async function answerQuestions(
  pool: Pool,
  node: { readonly id: number; readonly name: string },
  faults: NodeFaults,
  makeEngine: () => Engine,
): Promise<void> {
  for (const { id, question } of await openQuestions(pool, node.id))
    switch (question.kind) {
      case "ready":
        await answerQuestion<ReadyQuestion>(pool, id, await proveReadiness(question, node.name, faults));
        break;
      case "house":
        await answerQuestion<HouseQuestion>(pool, id, await seeHouse(question, node.name));
        break;
      case "try":
        beginTry(pool, id, question, makeEngine);
        break;
    }
}
