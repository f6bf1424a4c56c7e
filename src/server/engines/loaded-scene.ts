/**
 * A scene with its textures, read once for the frames of a batch.
 * A batch renders neighbours of one scene: reading and parsing it for each frame would cost more than a
 * small frame takes. Whether it is still the same is asked of the file system, by name, length and time.
 */
import fs from "node:fs/promises";
import type { Scene } from "@/contract/scene";
import { GREY_TEXTURE, type Texture } from "@/render/texture";
import { readSceneFile, texturePaths } from "../scenes/scene-files";
import { type EngineHooks, type FrameJob, RenderFailed } from "./engine";
import { LightKeeper } from "./gathered-light";
import { loadTexture } from "../scenes/textures";

export interface LoadedScene {
  readonly scene: Scene;
  /** By the file's name in the scene. */
  readonly textures: ReadonlyMap<string, Texture>;
}

async function stampOf(file: string): Promise<string | null> {
  const stat = await fs.stat(file).catch(() => null);
  return stat === null ? null : `${file} ${stat.size} ${stat.mtimeMs} ${stat.ctimeMs}`;
}

/** Keeps the scene of the last frame; it is read again when it, or one of its files, is another one. */
export class SceneKeeper {
  readonly lighting = new LightKeeper();
  #kept: (LoadedScene & { readonly stamp: string }) | null = null;

  async load(job: FrameJob, hooks: EngineHooks): Promise<LoadedScene> {
    const stamp = await this.#stampOf(job);
    if (stamp !== null && this.#kept?.stamp === stamp) return this.#kept;
    const scene = await readSceneFile(job.scene);
    const textures = await loadTextures(scene, job, hooks);
    this.#kept = { scene, textures, stamp: "" };
    this.#kept = { scene, textures, stamp: (await this.#stampOf(job)) ?? "" };
    return this.#kept;
  }

  /** null where it cannot be told, or where files are to be treated as not there. */
  async #stampOf(job: FrameJob): Promise<string | null> {
    if (job.hidden.length > 0 || this.#kept === null) return null;
    const stamps = [await stampOf(job.scene)];
    for (const file of (await texturePaths(job.scene, this.#kept.scene)).values())
      stamps.push(await stampOf(file));
    return stamps.includes(null) ? null : stamps.join("\n");
  }
}

async function loadTextures(scene: Scene, job: FrameJob, hooks: EngineHooks): Promise<Map<string, Texture>> {
  const textures = new Map<string, Texture>();
  for (const [name, place] of await texturePaths(job.scene, scene)) {
    if (job.hidden.includes(name)) {
      hooks.log("warning", `${name} is not to be had on this node; plain grey stands in for it`);
      textures.set(name, GREY_TEXTURE);
      continue;
    }
    textures.set(
      name,
      await loadTexture(place).catch(() => {
        throw new RenderFailed("texture-missing", { file: name });
      }),
    );
  }
  return textures;
}
