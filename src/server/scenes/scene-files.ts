/** A scene on disk: read and checked, with what it uses by content; frozen for a run. */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { LRUCache } from "lru-cache";
import { checkScene, type Scene, type SceneLighting, textureFiles } from "@/contract/scene";
import { faultText } from "@/contract/validate";
import type { LookSources } from "@/core/plan/fingerprint";
import { TallyError } from "../errors";
import { fileHash, sha256 } from "../files/content";
import { insideFolder } from "../files/paths";
import { readRegular } from "../files/read-regular";
import { parseRate, type Rate } from "@/core/timing/rate";
import { STAND_IN } from "@/core/plan/renderer";
import { declarationOf, engineOf, offerOfRenderer } from "./renderers";
import { ENGINE } from "./stand-in";
import { frozenFolder, temporaryOf } from "../files/layout";

/** What a frozen scene is called, whatever it was called before. */
const FROZEN_SCENE = "scene.json";

/** Scenes that a process keeps as they were read. */
const MOST_PARSED = 100;

/** The scene, and what it and its files are by content. */
export interface SceneOnDisk {
  readonly scene: Scene;
  /** Absolute path of each texture, by its name in the scene. */
  readonly textures: ReadonlyMap<string, string>;
  readonly sources: LookSources;
}

/** Scenes by the hash of their file: a page's figures are held against the same scene again and again. */
const parsed = new LRUCache<string, Scene>({ max: MOST_PARSED });

interface SceneFile {
  readonly scene: Scene;
  /** Of the file that was read. */
  readonly hash: string;
}

function parseScene(bytes: Buffer, name: string): Scene {
  let value: unknown;
  try {
    value = JSON.parse(bytes.toString("utf8"));
  } catch (error) {
    throw new TallyError("scene-broken", {
      message: `${name} is not JSON: ${(error as Error).message}`,
    });
  }
  const checked = checkScene(value);
  if (!checked.ok) throw new TallyError("scene-broken", { message: `${name}: ${faultText(checked.faults)}` });
  return checked.value;
}

/** A scene with the hash of the very bytes that it was read from, without what it uses. */
async function readSceneFileHashed(file: string): Promise<SceneFile> {
  const name = path.basename(file);
  const missing = (error: NodeJS.ErrnoException): never => {
    throw new TallyError("scene-missing", { file: name, errno: error.code }).because(error);
  };
  const known = await fileHash(file).catch(missing);
  const scene = parsed.get(known);
  if (scene !== undefined) return { scene, hash: known };
  // It may have been saved since: what is read now is what is hashed.
  const bytes = await readRegular(file).catch(missing);
  const hash = sha256(bytes);
  const read = parseScene(bytes, name);
  parsed.set(hash, read);
  return { scene: read, hash };
}

/** Reads a scene file alone, without what it uses. */
export const readSceneFile = async (file: string): Promise<Scene> => (await readSceneFileHashed(file)).scene;

/** Where each texture of a scene lies; textures are named relative to the scene's folder. */
export async function texturePaths(file: string, scene: Scene): Promise<Map<string, string>> {
  const paths = new Map<string, string>();
  for (const name of textureFiles(scene)) paths.set(name, await insideFolder(path.dirname(file), name));
  return paths;
}

/** Reads a scene with the content of every file it uses; a file that is not there is named. */
export async function readSceneOnDisk(file: string): Promise<SceneOnDisk> {
  const { scene, hash } = await readSceneFileHashed(file);
  const textures = await texturePaths(file, scene);
  const files: Record<string, string> = {};
  for (const [name, place] of textures) {
    files[name] = await fileHash(place).catch((error: unknown) => {
      throw new TallyError("texture-missing", { file: name }).because(error);
    });
  }
  return { scene, textures, sources: { scene: hash, files, engine: ENGINE } };
}

/** As an exact fraction: 23.976 in a scene file means 24000/1001. */
export const sceneRate = (scene: Scene): Rate | null => parseRate(String(scene.frameRate));

/** What renders of a scene depend on. */
export interface RenderSources {
  /** Cameras that the scene has; null where only its renderer can tell. */
  readonly cameras: readonly string[] | null;
  readonly textures: ReadonlyMap<string, string>;
  readonly sources: LookSources;
  /** Frames a second that the scene was made for; null where only its renderer can tell. */
  readonly rate: Rate | null;
  /** The gathered light that the scene, or the declaration of another renderer, asks for; null for none. */
  readonly lighting: SceneLighting | null;
}

/**
 * Reads what a renderer is given: for the stand-in the scene with all it uses, for another one the scene file
 * as it is.
 */
export async function readRenderSources(file: string, renderer: string): Promise<RenderSources> {
  if (renderer === STAND_IN) {
    const { scene, textures, sources } = await readSceneOnDisk(file);
    return {
      cameras: scene.cameras.map((c) => c.name),
      textures,
      sources,
      rate: sceneRate(scene),
      lighting: scene.lighting ?? null,
    };
  }
  const { lightEvery: every } = offerOfRenderer(renderer);
  const scene = await fileHash(file).catch((error: NodeJS.ErrnoException) => {
    throw new TallyError("scene-missing", { file: path.basename(file), errno: error.code }).because(error);
  });
  const textures = await filesBeside(path.dirname(file), declarationOf(renderer).uses ?? []);
  const files: Record<string, string> = {};
  for (const [name, place] of textures) files[name] = await fileHash(place);
  return {
    cameras: null,
    textures,
    sources: { scene, files, engine: engineOf(renderer) },
    rate: null,
    lighting: every === null ? null : { every },
  };
}

/** Every file of these files and folders; what is not there is left out, since scenes use different ones. */
async function filesBeside(folder: string, uses: readonly string[]): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  for (const name of uses) {
    const place = await insideFolder(folder, name);
    const stat = await fs.stat(place).catch(() => null);
    if (stat?.isFile() === true) found.set(name, place);
    if (stat?.isDirectory() !== true) continue;
    for (const entry of await fs.readdir(place, { recursive: true, withFileTypes: true })) {
      const file = path.join(entry.parentPath, entry.name);
      if (entry.isFile()) found.set(path.relative(folder, file), file);
    }
  }
  return new Map([...found].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Name of the frozen scene: another renderer may tell by the ending what it reads. */
export const frozenName = (renderer: string, scene: string): string =>
  renderer === STAND_IN ? FROZEN_SCENE : path.basename(scene);

/** Name of a frozen copy: by what is in it, so that saving the scene later does not mix two looks. */
export const frozenAs = ({ sources }: RenderSources): string =>
  frozenFolder(sha256(Buffer.from(JSON.stringify([sources.scene, sources.files]))).slice(0, 16));

/**
 * Copies the scene and all it uses.
 * @param relative folder of the copy below the other one; left out, as a version has it
 * @returns the copy's folder, relative to the other one
 */
export async function freezeScene(
  file: string,
  renderer: string,
  onDisk: RenderSources,
  versionFolder: string,
  relative = frozenAs(onDisk),
): Promise<string> {
  const target = path.join(versionFolder, relative);
  await fs.mkdir(target, { recursive: true });
  for (const [as, from] of [[frozenName(renderer, file), file] as const, ...onDisk.textures]) {
    const to = await insideFolder(versionFolder, path.join(relative, as));
    await fs.mkdir(path.dirname(to), { recursive: true });
    // Of two starts at one moment each has its own name to copy under.
    const temporary = temporaryOf(to, `-${crypto.randomUUID()}`);
    await fs.copyFile(from, temporary);
    await fs.rename(temporary, to);
  }
  // What was copied must be what was fingerprinted: the scene may have been saved in between.
  const copied = await readRenderSources(path.join(target, frozenName(renderer, file)), renderer);
  if (JSON.stringify(copied.sources) !== JSON.stringify(onDisk.sources))
    throw new TallyError("scene-changed");
  return relative;
}
