/**
 * The copy of a scene that a run renders from, so that saving the scene during the night does not mix two
 * looks.
 */
import type { SceneLighting } from "@/contract/scene";
import type { Plan } from "@/core/plan/plan";
import { TallyError } from "../errors";
import { versionPlace } from "../files/layout";
import { freezeScene } from "../scenes/scene-files";
import type { SceneNow } from "../scenes/scene-now";
import type { RunVersion } from "../store/run-versions";
import type { SequenceRow } from "../store/shots";

export interface FrozenScene extends Pick<RunVersion, "sceneFolder" | "sources"> {
  /** That the scene asks for; null: none. */
  readonly lighting: SceneLighting | null;
}

/** Proves that the plan's cameras are in the scene, and copies it for a run. */
export async function freezeForRun(
  sequence: SequenceRow,
  plan: Plan,
  scene: SceneNow | TallyError,
): Promise<FrozenScene> {
  if (scene instanceof TallyError) throw scene;
  const unknown =
    scene.cameras === null ? undefined : plan.cameras.find((camera) => !scene.cameras!.includes(camera));
  if (unknown !== undefined)
    throw new TallyError("unknown-camera", { camera: unknown }).at(
      "cameras",
      "This camera is not in the scene.",
    );
  if (scene.lighting?.only === true) throw new TallyError("scene-writes-no-pictures");
  return {
    sources: scene.sources,
    lighting: plan.shading === "full" ? scene.lighting : null,
    sceneFolder: await freezeScene(scene.file, plan.renderer, scene, versionPlace(sequence)),
  };
}
