/** What a scene tells of itself for a new shot, as far as its renderer can say it here. */
import type { DescribedScene, SceneFacts } from "@/contract/scene-facts";
import { STAND_IN } from "@/core/plan/renderer";
import { parseRate, rateText } from "@/core/timing/rate";
import { TallyError } from "../errors";
import { fileHash } from "../files/content";
import { insideFolder, projectFolder, type ProjectPlace } from "../files/paths";
import { describeScene } from "./described-scene";
import { declarationOf } from "./renderers";
import { readSceneFile, sceneRate, texturePaths } from "./scene-files";
import fs from "node:fs/promises";

/** Another renderer's scene where the declaration names no call that tells of it: it is there, and no more. */
const UNSAID: SceneFacts = {
  cameras: null,
  timeLine: null,
  rate: null,
  markers: [],
  missing: [],
};

function factsOf(described: DescribedScene | null): SceneFacts {
  if (described === null) return UNSAID;
  const rate = described.rate === undefined ? null : parseRate(String(described.rate));
  return {
    cameras: described.cameras ?? null,
    timeLine: described.timeLine ?? null,
    rate: rate === null ? null : rateText(rate),
    markers: (described.markers ?? []).map(({ name, first, last }) => ({ name, first, end: last + 1 })),
    missing: [],
  };
}

/**
 * Cameras, time line, rate and markers; and which of the files that it uses are not there.
 * @param scene relative to the project's folder
 * @throws TallyError `scene-missing`, `scene-broken`, `renderer-unknown`, `path-outside-root`
 */
export async function readSceneFacts(
  place: ProjectPlace,
  scene: string,
  renderer: string,
): Promise<SceneFacts> {
  const file = await insideFolder(projectFolder(place), scene);
  if (renderer !== STAND_IN) {
    declarationOf(renderer);
    await fileHash(file).catch((error: NodeJS.ErrnoException) => {
      throw new TallyError("scene-missing", { file: scene, errno: error.code }).because(error);
    });
    return factsOf(await describeScene(file, renderer));
  }
  const read = await readSceneFile(file);
  const missing: string[] = [];
  for (const [name, texture] of await texturePaths(file, read))
    if (!(await fs.stat(texture).catch(() => null))?.isFile()) missing.push(name);
  const rate = sceneRate(read);
  return {
    cameras: read.cameras.map((camera) => camera.name),
    timeLine: read.timeLine ?? null,
    rate: rate === null ? null : rateText(rate),
    markers: (read.markers ?? []).map(({ name, first, last }) => ({ name, first, end: last + 1 })),
    missing,
  };
}
