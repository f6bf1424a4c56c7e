/**
 * Small pictures of a scene, rendered by the server itself: few samples, a row at a time with a
 * breath between, one after the other, so that pages stay quick. Kept by content: a scene that is
 * saved anew gets new pictures, an old one costs nothing.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { setImmediate as breathe } from "node:timers/promises";
import { LRUCache } from "lru-cache";
import pLimit from "p-limit";
import type { CameraMove } from "@/core/plan/camera-move";
import { moveFault, viewOf } from "@/core/plan/camera-move";
import { quantize } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { toDisplay } from "@/render/layers";
import { type Glimpse, motionEnd, type SweptMotion, sweepMotion } from "@/render/motion";
import { FrameRender, type FrameRequest, UnknownCamera } from "@/render/render-frame";
import type { Texture } from "@/render/texture";
import { keepNewest, markUsed } from "../files/bounded-folder";
import { dataFolder } from "../configuration";
import { loadTexture } from "../scenes/textures";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { imageTools } from "../files/image-tools";
import { insideFolder, projectFolder } from "../files/paths";
import { readSceneOnDisk, type SceneOnDisk } from "../scenes/scene-files";
import { ENGINE } from "../scenes/stand-in";
import { requireShot } from "../store/find-shot";

/** Enough to tell cameras apart. */
const THUMBNAIL = { width: 160, height: 90, samples: 4 } as const;
/** Enough to tell whether anything moves, or is there at all. */
const GLIMPSE = { width: 48, height: 27, samples: 1 } as const;
/** Pictures that may be asked for at once; beyond, the server says so instead of piling them up. */
const MOST_WAITING = 400;

/** The server is there for pages first. */
const oneAtATime = pLimit(1);
/** Looking for the end of a motion takes many pictures: the small ones of a page never wait behind it. */
const oneSweep = pLimit(1);

export interface ThumbnailRequest {
  readonly scene: string;
  readonly camera: string;
  /** Scene frames, fractions allowed. */
  readonly time: number;
  readonly move: { readonly move: CameraMove; readonly index: number; readonly frames: number } | null;
}

/** A scene of a shot's project, as it is on disk now. @param name `project/CODE` */
export async function sceneOfShot(name: string, scenePath: string): Promise<SceneOnDisk> {
  const { project } = await requireShot(name);
  return readSceneOnDisk(await insideFolder(projectFolder(project), scenePath));
}

/** One text for a scene and all that it uses. */
export const versionOfScene = (onDisk: SceneOnDisk): string =>
  sha256(Buffer.from(JSON.stringify(onDisk.sources))).slice(0, 16);

async function texturesOf(onDisk: SceneOnDisk): Promise<Map<string, Texture>> {
  const textures = new Map<string, Texture>();
  for (const [name, place] of onDisk.textures) textures.set(name, await loadTexture(place));
  return textures;
}

/** Renders row by row and lets others have their turn between. */
async function renderGently(request: FrameRequest, isWanted = (): boolean => true): Promise<FrameRender> {
  let render: FrameRender;
  try {
    render = new FrameRender(request);
  } catch (error) {
    if (error instanceof UnknownCamera)
      throw new TallyError("unknown-camera", { camera: request.camera }).because(error);
    throw error;
  }
  while (render.renderRow()) {
    await breathe();
    if (!isWanted()) throw new TallyError("picture-not-wanted");
  }
  return render;
}

/** As PNG, as shown. */
const bytesOf = (render: FrameRender): Uint8Array =>
  writePng(quantize(toDisplay(render.pictures.beauty(), "beauty"), 8, false), {}, imageTools);

function requestOf(
  onDisk: SceneOnDisk,
  textures: ReadonlyMap<string, Texture>,
  { camera, time, move }: ThumbnailRequest,
  size: { readonly width: number; readonly height: number; readonly samples: number },
): FrameRequest {
  return {
    scene: onDisk.scene,
    textures,
    camera,
    frame: time,
    ...size,
    seed: 1,
    shading: "direct",
    sameGrain: true,
    ...(move === null ? {} : { view: viewOf(move.move, move.index, move.frames) }),
  };
}

/** Some twenty thousand pictures. */
const MOST_KEPT_BYTES = 200_000_000;
/** Pictures between two looks at how many there are. */
const PRUNE_EVERY = 100;
/** By this process. */
let drawn = 0;

/**
 * PNG of a scene at a time. @returns whether the address may be kept for good
 * @param isWanted asked now and then: false gives the picture up
 */
export async function thumbnailOf(
  code: string,
  request: ThumbnailRequest,
  isWanted = (): boolean => true,
): Promise<{ readonly bytes: Uint8Array; readonly version: string }> {
  if (!Number.isFinite(request.time))
    throw new TallyError("address-wrong", { message: "The time of the picture is no number." });
  const wrong = request.move === null ? null : moveFault(request.move.move);
  if (wrong !== null) throw new TallyError("address-wrong", { message: wrong });
  const onDisk = await sceneOfShot(code, request.scene);
  const version = versionOfScene(onDisk);
  const name = sha256(
    Buffer.from(JSON.stringify([version, ENGINE, THUMBNAIL, request.camera, request.time, request.move])),
  ).slice(0, 32);
  const folder = path.join(dataFolder(), "thumbnails");
  const file = path.join(folder, `${name}.png`);
  const kept = await fs.readFile(file).catch(() => null);
  if (kept !== null) {
    await markUsed(file, new Date());
    return { bytes: kept, version };
  }
  if (oneAtATime.pendingCount > MOST_WAITING) throw new TallyError("thumbnails-busy");
  const bytes = await oneAtATime(async () => {
    if (!isWanted()) throw new TallyError("picture-not-wanted");
    return bytesOf(
      await renderGently(requestOf(onDisk, await texturesOf(onDisk), request, THUMBNAIL), isWanted),
    );
  });
  await fs.mkdir(folder, { recursive: true });
  await fs.writeFile(`${file}.${process.pid}`, bytes);
  await fs.rename(`${file}.${process.pid}`, file);
  if (++drawn % PRUNE_EVERY === 0) await keepNewest(folder, MOST_KEPT_BYTES);
  return { bytes, version };
}

export interface MotionRequest {
  readonly scene: string;
  readonly camera: string;
  readonly first: number;
  readonly last: number;
}

const MOST_SWEPT = 500;

/** Sweeps by scene and request, so that a page that asks again waits for nothing. */
const swept = new LRUCache<string, Sweep>({ max: MOST_SWEPT });

interface Sweep {
  readonly motion: Promise<SweptMotion>;
  /** Of all that wait for it: when none does any more it is given up. */
  readonly waiting: (() => boolean)[];
}

/** Where the motion ends. What the scene's keys say comes first; what is in sight is seen in thumbnails. */
export async function motionOf(
  code: string,
  { scene, camera, first, last }: MotionRequest,
  isWanted = (): boolean => true,
): Promise<SweptMotion> {
  if (![first, last].every(Number.isInteger) || last < first || last - first > 1_000_000)
    throw new TallyError("address-wrong", { message: "The time line of the motion is no range of frames." });
  const onDisk = await sceneOfShot(code, scene);
  const key = JSON.stringify([versionOfScene(onDisk), camera, first, last]);
  const waiting = swept.get(key)?.waiting ?? [];
  waiting.push(isWanted);
  const isStillWanted = (): boolean => waiting.some((wanted) => wanted());
  const sweep =
    swept.get(key)?.motion ??
    oneSweep(async () => {
      const textures = await texturesOf(onDisk);
      const seen = new Map<number, Glimpse>();
      return sweepMotion(first, last, async (frame) => {
        const known = seen.get(frame);
        if (known !== undefined) return known;
        if (!isStillWanted()) throw new TallyError("picture-not-wanted");
        const render = await renderGently(
          requestOf(onDisk, textures, { scene, camera, time: frame, move: null }, GLIMPSE),
          isStillWanted,
        );
        const glimpse = {
          mark: sha256(Buffer.from(render.pictures.beauty().data.buffer)),
          isEmpty: render.pictures.alpha().every((share) => share === 0),
        };
        seen.set(frame, glimpse);
        return glimpse;
      });
    });
  swept.set(key, { motion: sweep, waiting });
  sweep.then(
    () => waiting.splice(0),
    () => swept.delete(key),
  );
  const { movesUntil, emptyFrom } = await sweep;
  const said = motionEnd(onDisk.scene, camera);
  // Tiny things that move are not in a thumbnail, but in the scene's keys; what the keys move may be out of
  // sight.
  return {
    emptyFrom,
    movesUntil:
      said === null || said >= last ? (said === null ? movesUntil : null) : Math.max(first, Math.ceil(said)),
  };
}
