/**
 * The scene of a plan as it is on disk now: read and hashed once for all that a request asks of it.
 * Asked outside of any lock: reading takes as long as a share takes. What was read is handed on, never read
 * again within one request.
 */
import type { Plan } from "@/core/plan/plan";
import { ELSEWHERE } from "@/core/plan/renderer";
import { TallyError } from "../errors";
import { insideFolder, projectFolder, type ProjectPlace } from "../files/paths";
import { readRenderSources, type RenderSources } from "./scene-files";

export interface SceneNow extends RenderSources {
  /** Absolute. */
  readonly file: string;
}

/** The scene, or why it cannot be read. */
export async function readSceneNow(
  place: ProjectPlace,
  plan: Pick<Plan, "scene" | "renderer">,
): Promise<SceneNow | TallyError> {
  if (plan.renderer === ELSEWHERE) return new TallyError("scene-elsewhere");
  try {
    const file = await insideFolder(projectFolder(place), plan.scene);
    return { file, ...(await readRenderSources(file, plan.renderer)) };
  } catch (error) {
    if (error instanceof TallyError) return error;
    throw error;
  }
}
