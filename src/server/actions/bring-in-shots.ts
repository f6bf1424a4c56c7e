/**
 * Shots that are brought in: by a scene, a list or an edit. First it is said of each what will come of it, from
 * reading alone; then the same is done. What is wrong with one keeps none of the others.
 */
import type { Who } from "@/contract/who";
import fs from "node:fs/promises";
import path from "node:path";
import type { SceneFacts } from "@/contract/scene-facts";
import type { ShotImport, ShotLineView } from "@/contract/shot-import";
import { followTimeLine, newPlan } from "@/core/plan/new-plan";
import { changedFields, type Plan } from "@/core/plan/plan";
import type { ShotFacts } from "@/core/plan/shot";
import { type LineFault, readShotList } from "@/core/plan/shot-list";
import type { ShotWish } from "@/core/plan/shot-wish";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { SCENES } from "../files/layout";
import { projectFolder } from "../files/paths";
import { readSceneFacts } from "../scenes/scene-facts";
import { requireProject } from "../store/find-shot";
import type { ProjectRow } from "../store/projects";
import { latestRevision, listAllShots, type ShotRow } from "../store/shots";
import { currentSequence } from "../views/current-sequence";
import { checkPlan, saveRevision } from "./save-plan";
import { changeShot, makeShot, requireFreeCode, requireShotFacts } from "./shots";

/** Where no scene is there to name one. */
const USUAL_CAMERA = "main";

interface ToMake {
  readonly kind: "made";
  readonly facts: ShotFacts;
  readonly plan: Plan;
}
interface ToChange {
  readonly kind: "changed" | "unchanged";
  readonly shot: ShotRow;
  readonly facts: ShotFacts;
  /** Null: the plan stays. */
  readonly plan: { readonly versionId: number; readonly basedOn: number; readonly plan: Plan } | null;
}
type Intended = (ToMake | ToChange) & { readonly view: ShotLineView };

/** A wish with the line that it stands in, where it comes from a list. */
export type WishInList = ShotWish & { readonly line?: number };

/** Scene files of a project by their names without an ending, in small letters. */
async function scenesByStem(project: ProjectRow): Promise<ReadonlyMap<string, string>> {
  const names = await fs.readdir(path.join(projectFolder(project), SCENES)).catch(() => []);
  return new Map(names.sort().map((name) => [path.parse(name).name.toLowerCase(), `${SCENES}/${name}`]));
}

/** What the scene says; null where it is not there, and may come later since nobody has named it. */
async function factsOfScene(
  project: ProjectRow,
  scene: string,
  { renderer }: ShotWish,
  mayLack: boolean,
): Promise<SceneFacts | null> {
  try {
    return await readSceneFacts(project, scene, renderer);
  } catch (error) {
    if (mayLack && error instanceof TallyError && error.code === "scene-missing") return null;
    throw error;
  }
}

/** Decides for one project, from what is there now. */
class Intentions {
  readonly #project: ProjectRow;
  readonly #shots: ReadonlyMap<string, ShotRow>;
  readonly #scenes: ReadonlyMap<string, string>;

  constructor(project: ProjectRow, shots: readonly ShotRow[], scenes: ReadonlyMap<string, string>) {
    this.#project = project;
    this.#shots = new Map(shots.map((shot) => [shot.code.toLowerCase(), shot]));
    this.#scenes = scenes;
  }

  /** @throws TallyError with what is wrong, at its field */
  async of(wish: WishInList): Promise<Intended> {
    const shot = this.#shots.get(wish.code.toLowerCase());
    if (shot?.isArchived === true)
      throw new TallyError("name-taken", { what: `${this.#project.slug}/${shot.code} (archived)` }).at(
        "code",
      );
    return shot === undefined ? this.#toMake(wish) : this.#toChange(wish, shot);
  }

  #sceneOf(wish: ShotWish): string {
    return wish.scene ?? this.#scenes.get(wish.code.toLowerCase()) ?? `${SCENES}/${wish.code}.json`;
  }

  async #toMake(wish: WishInList): Promise<Intended> {
    const scene = this.#sceneOf(wish);
    const said = await factsOfScene(this.#project, scene, wish, wish.scene === null);
    const timeLine = wish.timeLine ?? said?.timeLine ?? null;
    if (timeLine === null) throw new TallyError("frames-unsaid", { scene }).at("timeLine");
    const facts: ShotFacts = {
      code: wish.code,
      title: wish.title ?? wish.code,
      firstFrame: timeLine.first,
      lastFrame: timeLine.last,
      markers: wish.markers ?? said?.markers ?? [],
    };
    requireShotFacts(facts);
    await requireFreeCode(pool(), this.#project, facts.code, null);
    const cameras = wish.cameras ?? said?.cameras?.slice(0, 1) ?? [USUAL_CAMERA];
    const { renderer } = wish;
    const { firstFrame, lastFrame } = facts;
    const plan = newPlan(
      { scene, renderer, cameras, firstFrame, lastFrame },
      this.#project.rate,
      this.#project.defaults,
    );
    await checkPlan(this.#project, plan, { mayLackScene: said === null });
    return { kind: "made", facts, plan, view: viewOf(wish, facts, plan, said !== null, []) };
  }

  async #toChange(wish: WishInList, shot: ShotRow): Promise<Intended> {
    const facts: ShotFacts = {
      code: shot.code,
      title: wish.title ?? shot.title,
      firstFrame: wish.timeLine?.first ?? shot.firstFrame,
      lastFrame: wish.timeLine?.last ?? shot.lastFrame,
      markers: wish.markers ?? shot.markers,
    };
    requireShotFacts(facts);
    const sequence = await currentSequence(shot.id);
    const revision = sequence === null ? null : await latestRevision(pool(), sequence.versionId);
    const changes: string[] = [];
    if (facts.title !== shot.title) changes.push(`title "${shot.title}" becomes "${facts.title}"`);
    if (facts.firstFrame !== shot.firstFrame || facts.lastFrame !== shot.lastFrame)
      changes.push(`${shot.firstFrame}-${shot.lastFrame} becomes ${facts.firstFrame}-${facts.lastFrame}`);
    let plan: ToChange["plan"] = null;
    if (revision !== null && sequence !== null) {
      const next: Plan = {
        ...followTimeLine(revision.plan, facts.firstFrame, facts.lastFrame),
        scene: wish.scene ?? revision.plan.scene,
        cameras: wish.cameras ?? revision.plan.cameras,
      };
      if (next.scene !== revision.plan.scene)
        changes.push(`scene ${revision.plan.scene} becomes ${next.scene}`);
      if (next.cameras.join() !== revision.plan.cameras.join())
        changes.push(`camera ${revision.plan.cameras.join(", ")} becomes ${next.cameras.join(", ")}`);
      if (changedFields(revision.plan, next).length > 0) {
        await checkPlan(this.#project, next, { mayLackScene: wish.scene === null });
        plan = { versionId: sequence.versionId, basedOn: revision.number, plan: next };
      }
    }
    const shown = plan?.plan ?? revision?.plan ?? null;
    return {
      kind: changes.length > 0 || plan !== null ? "changed" : "unchanged",
      shot,
      facts,
      plan,
      view: viewOf(wish, facts, shown, true, changes),
    };
  }
}

const viewOf = (
  wish: WishInList,
  facts: ShotFacts,
  plan: Plan | null,
  isSceneThere: boolean,
  changes: readonly string[],
): ShotLineView => ({
  line: wish.line ?? null,
  code: facts.code,
  title: facts.title,
  first: facts.firstFrame,
  last: facts.lastFrame,
  scene: plan?.scene ?? "",
  isSceneThere,
  cameras: plan?.cameras ?? [],
  changes,
});

/** Does what was said. */
async function carryOut(slug: string, intended: Intended, who: Who): Promise<void> {
  if (intended.kind === "unchanged") return;
  const { facts } = intended;
  if (intended.kind === "made") {
    await makeShot(slug, facts, intended.plan, { mayLackScene: !intended.view.isSceneThere }, who);
    return;
  }
  const name = `${slug}/${intended.shot.code}`;
  const { title, firstFrame, lastFrame, markers } = facts;
  await changeShot(name, { title, firstFrame, lastFrame, markers }, who);
  if (intended.plan === null) return;
  const { versionId, plan, basedOn } = intended.plan;
  await saveRevision(name, versionId, plan, basedOn, { mayLackScene: true }, who);
}

const faultOf = (wish: WishInList, error: TallyError): ShotImport["wrong"][number] => {
  const message = `${wish.code}: ${error.message}`;
  if (wish.line !== undefined) return { line: wish.line, message };
  const field = error.faults[0]?.field;
  return { line: null, message: error.message, ...(field === undefined ? {} : { field }) };
};

/**
 * @param wrong what was told of lines that are no wishes
 * @param isDry only says what would come of it
 * @throws TallyError `project-unknown`
 */
export async function bringInShots(
  slug: string,
  wishes: readonly WishInList[],
  {
    wrong = [],
    isDry,
    who = null,
  }: { readonly wrong?: readonly LineFault[]; readonly isDry: boolean; readonly who?: Who },
): Promise<ShotImport> {
  const project = await requireProject(slug);
  const intentions = new Intentions(
    project,
    await listAllShots(pool(), project.id),
    await scenesByStem(project),
  );
  const found: Record<"made" | "changed" | "unchanged", ShotLineView[]> = {
    made: [],
    changed: [],
    unchanged: [],
  };
  const faults: ShotImport["wrong"][number][] = [...wrong];
  for (const wish of wishes) {
    try {
      const intended = await intentions.of(wish);
      if (!isDry) await carryOut(slug, intended, who);
      found[intended.kind].push(intended.view);
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      faults.push(faultOf(wish, error));
    }
  }
  return { ...found, wrong: faults.sort((a, b) => (a.line ?? 0) - (b.line ?? 0)) };
}

/** The same, of a table as a text. @throws TallyError `project-unknown` */
export function bringInList(
  slug: string,
  text: string,
  isDry: boolean,
  who: Who = null,
): Promise<ShotImport> {
  const { wishes, wrong } = readShotList(text);
  return bringInShots(slug, wishes, { wrong, isDry, who });
}
