/**
 * Before its first frame of a run, a node proves that it sees the frozen scene and each file it
 * needs, by content, and can write. One that cannot is set aside for the run, with what it lacks,
 * and lets itself in again once it can.
 */
import path from "node:path";
import { LRUCache } from "lru-cache";
import type { ReadyAnswer, ReadyQuestion } from "@/contract/node-request";
import { type VersionKey, versionName } from "@/core/plan/plan";
import { isExternal } from "@/core/plan/renderer";
import { declaredRenderers } from "../configuration";
import { type Pool, transact } from "../db/pool";
import { fileHash } from "../files/content";
import { insideFolder, projectFolder } from "../files/paths";
import { freezeScene, frozenName, readRenderSources } from "../scenes/scene-files";
import { openAsides, letIn, setNodeAside } from "../store/asides";
import { appendEvent } from "../store/events";
import { forgetOpenQueue } from "../queue/open-runs";
import { type RunPlace, placesOfRun } from "../store/run-versions";
import { holdForSpace, isFull } from "./disk-space";
import type { NodeFaults } from "./faults";
import { proveReadiness } from "./readiness";
import { versionFolder } from "../files/layout";

/** Runs that are remembered: more than any node works on at one time. */
const MOST_RUNS = 1_000;

/** Between two looks of a node that lacked something. */
const LOOK_AGAIN_MS = 5_000;

export interface ReadyNode {
  readonly id: number;
  /** For messages. */
  readonly name: string;
}

/** Nothing lacks. */
const isReady = ({ cannotWrite, missing, different, renderers }: ReadyAnswer): boolean =>
  cannotWrite === null && missing.length + different.length + renderers.length === 0;

/** Proven once a run. A node that was found wanting looks again from time to time: shares come back. */
export class RunReadiness {
  readonly #pool: Pool;
  readonly #faults: NodeFaults;
  readonly #log: (text: string) => void;
  readonly #proven = new LRUCache<number, Promise<boolean>>({ max: MOST_RUNS });
  readonly #takesSeveral = new LRUCache<number, Promise<boolean>>({ max: MOST_RUNS });
  #lookedAt = 0;

  constructor(pool: Pool, faults: NodeFaults, log: (text: string) => void) {
    this.#pool = pool;
    this.#faults = faults;
    this.#log = log;
  }

  /** True when the node may take frames of a run. Proved once, unless it is forgotten. */
  isReady(node: ReadyNode, runId: number): Promise<boolean> {
    const known = this.#proven.get(runId);
    if (known !== undefined) return known;
    const proving = this.#proveOrSetAside(node, runId);
    this.#proven.set(runId, proving);
    // Only what holds is remembered: a node that was let in again proves it anew.
    proving.then(
      (ready) => ready || this.#proven.delete(runId),
      () => this.#proven.delete(runId),
    );
    return proving;
  }

  /** Whether one call of the run's renderer makes several frames; of versions with different ones: not. */
  takesSeveral(runId: number): Promise<boolean> {
    const known = this.#takesSeveral.get(runId);
    if (known !== undefined) return known;
    const asked = placesOfRun(this.#pool, runId).then((places) =>
      places.every(
        ({ renderer }) => isExternal({ renderer }) && declaredRenderers()[renderer]?.batch !== undefined,
      ),
    );
    this.#takesSeveral.set(runId, asked);
    asked.catch(() => this.#takesSeveral.delete(runId));
    return asked;
  }

  /** A frame failed for something about files: what was proved may hold no more. */
  proveAgain(node: ReadyNode, runId: number): Promise<boolean> {
    this.#proven.delete(runId);
    return this.isReady(node, runId);
  }

  /** Lets the node in again where it was set aside for what is there now. */
  async lookAgain(node: ReadyNode): Promise<void> {
    if (performance.now() - this.#lookedAt < LOOK_AGAIN_MS) return;
    this.#lookedAt = performance.now();
    for (const aside of await openAsides(this.#pool)) {
      if (aside.nodeId !== node.id || aside.reason.code !== "not-ready" || aside.runId === null) continue;
      const answer = await this.#prove(node, aside.runId);
      if (answer === null || !isReady(answer)) continue;
      await transact(async (tx) => {
        if ((await letIn(tx, aside.id)) !== null) await appendEvent(tx, "node");
      }, this.#pool);
      this.#log(`ready for run ${aside.runId} again`);
    }
  }

  /** True where the node may take frames of the run. */
  async #proveOrSetAside(node: ReadyNode, runId: number): Promise<boolean> {
    const answer = await this.#prove(node, runId);
    if (answer === null || isReady(answer)) return true;
    if (isFull(answer.cannotWrite)) {
      await holdForSpace(this.#pool, runId, 0);
      return false;
    }
    await transact(async (tx) => {
      await setNodeAside(tx, node.id, runId, { code: "not-ready", ...answer });
      await appendEvent(tx, "node");
    }, this.#pool);
    forgetOpenQueue(this.#pool);
    this.#log(
      `not ready for run ${runId}: ${[...answer.missing.map((f) => `does not see ${f}`), ...answer.different.map((f) => `sees other bytes in ${f}`), ...answer.renderers, ...(answer.cannotWrite === null ? [] : [`cannot write (${answer.cannotWrite})`])].join(", ")}`,
    );
    return false;
  }

  /** null: the run is not there any more. */
  async #prove(node: ReadyNode, runId: number): Promise<ReadyAnswer | null> {
    const places = await placesOfRun(this.#pool, runId);
    if (places.length === 0) return null;
    const answers: ReadyAnswer[] = [];
    for (const place of places) answers.push(await this.#provePlace(node, runId, place, places.length > 1));
    const all = (of: (answer: ReadyAnswer) => readonly string[]): string[] => [
      ...new Set(answers.flatMap(of)),
    ];
    return {
      cannotWrite: answers.find((a) => a.cannotWrite !== null)?.cannotWrite ?? null,
      missing: all((a) => a.missing),
      different: all((a) => a.different),
      renderers: all((a) => a.renderers),
    };
  }

  /** One of the versions that the run covers. */
  async #provePlace(
    node: ReadyNode,
    runId: number,
    place: RunPlace,
    isOneOfSeveral: boolean,
  ): Promise<ReadyAnswer> {
    const question = questionOf(place, isOneOfSeveral);
    const answer = await proveReadiness(question, node.name, this.#faults);
    if (
      answer.missing.length + answer.different.length === 0 ||
      !(await restoreFrozenScene(place).catch(() => false))
    )
      return answer;
    this.#log(
      `the frozen scene of run ${runId} was gone or changed; it is made again from the scene, which has the same bytes`,
    );
    return proveReadiness(question, node.name, this.#faults);
  }
}

/** What the node must see, as it would be asked by the server. */
function questionOf(
  { root, folder, namedShot, version, purpose, sceneFolder, sources, scene, renderer }: RunPlace,
  isOneOfSeveral: boolean,
): ReadyQuestion {
  const key: VersionKey = { version, purpose };
  const below = versionFolder({ namedShot, ...key });
  const file = (name: string, as: string, content: string): ReadyQuestion["files"][number] => ({
    path: path.join(below, sceneFolder, as),
    name,
    content,
  });
  return {
    kind: "ready",
    root,
    folder,
    version: below,
    files: [
      file(
        isOneOfSeveral ? `the scene of ${versionName(key)}` : "the scene",
        frozenName(renderer, scene),
        sources.scene,
      ),
      ...Object.entries(sources.files).flatMap(([name, content]) =>
        content === null ? [] : [file(name, name, content)],
      ),
    ],
    renderers: [{ name: renderer, engine: sources.engine }],
  };
}

/**
 * Somebody removed the run's copy of the scene: copied again, if the scene still has the bytes that the run
 * began with.
 */
async function restoreFrozenScene(place: RunPlace): Promise<boolean> {
  const project = projectFolder(place);
  const below = versionFolder(place);
  if (await isWhole(path.join(project, below, place.sceneFolder), place)) return false;
  const scene = await insideFolder(project, place.scene);
  const onDisk = await readRenderSources(scene, place.renderer);
  if (
    onDisk.sources.scene !== place.sources.scene ||
    JSON.stringify(onDisk.sources.files) !== JSON.stringify(place.sources.files)
  )
    return false;
  return (await freezeScene(scene, place.renderer, onDisk, path.join(project, below))) === place.sceneFolder;
}

/** The frozen scene is what was frozen, by content. */
async function isWhole(folder: string, { renderer, scene, sources }: RunPlace): Promise<boolean> {
  for (const [as, content] of [
    [frozenName(renderer, scene), sources.scene] as const,
    ...Object.entries(sources.files),
  ]) {
    if (content !== null && (await fileHash(path.join(folder, as)).catch(() => null)) !== content)
      return false;
  }
  return true;
}
