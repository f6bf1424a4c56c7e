/**
 * Scenes that tallies were held against, looked at again and again while any page is open: a scene, a texture
 * or a declaration that changes on disk puts frames out of date, and no event says so.
 * Remembered is what a version was held against last; whoever finds it changed first, a page that reads it or
 * the look here, the version is told once.
 */
import type { Plan } from "@/core/plan/plan";
import { TallyError } from "../errors";
import type { ProjectPlace } from "../files/paths";
import { type SceneNow, readSceneNow } from "../scenes/scene-now";

type Source = Pick<Plan, "scene" | "renderer">;

interface Shown {
  readonly place: ProjectPlace;
  readonly source: Source;
  /** All that decides the pictures, or why it cannot be read; as text, to compare. */
  readonly content: string;
}

interface Memory {
  /** By version. */
  readonly shown: Map<number, Shown>;
  readonly changed: Set<number>;
}

const shared = globalThis as { plainTallySources?: Memory };
/** Next may load a module twice; what a process shows is one memory. */
const memory = (): Memory => (shared.plainTallySources ??= { shown: new Map(), changed: new Set() });

const contentOf = (scene: SceneNow | TallyError): string =>
  scene instanceof TallyError ? `${scene.code} ${scene.message}` : JSON.stringify(scene.sources);

/**
 * A tally of this version has just been held against this scene. Another scene in its plan is no change on
 * disk: the plan's own event tells it.
 */
export function markHeldAgainst(
  versionId: number,
  place: ProjectPlace,
  { scene, renderer }: Source,
  read: SceneNow | TallyError,
): void {
  const { shown, changed } = memory();
  const content = contentOf(read);
  const before = shown.get(versionId);
  const isSameSource = before?.source.scene === scene && before.source.renderer === renderer;
  if (isSameSource && before.content !== content) changed.add(versionId);
  shown.set(versionId, { place, source: { scene, renderer }, content });
}

/**
 * Looks at every scene that is shown; a file that has not changed is not read for it.
 * @returns versions whose frames may be out of date by now, each told once
 */
export async function versionsWithOtherSources(): Promise<readonly number[]> {
  const { shown, changed } = memory();
  for (const [versionId, before] of shown) {
    const scene = await readSceneNow(before.place, before.source);
    // A page may have read the version meanwhile, and its plan may name another scene.
    if (shown.get(versionId) === before) markHeldAgainst(versionId, before.place, before.source, scene);
  }
  const told = [...changed];
  changed.clear();
  return told;
}

/** Nobody looks any more. Whoever comes next reads everything. */
export function forgetSources(): void {
  memory().shown.clear();
  memory().changed.clear();
}
