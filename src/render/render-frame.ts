/**
 * Renders one frame row by row, so that its driver can report progress, hear an abort and save what
 * there is between rows. Two ways of going through the picture:
 *
 * - rounds: a few samples everywhere, again and again. Can be stopped at any moment with a whole
 *   picture, and goes on later with more samples.
 * - tiles: all samples of a small square, then the next. A tile is final once it is done.
 */
import type { Scene, Vec3 } from "@/contract/scene";
import type { Lens } from "@/core/plan/lens";
import type { FilterSettings, Sampling, Shading } from "@/core/plan/picture";
import { makeFilter, type PixelFilter } from "./filter";
import {
  FramePictures,
  type FrameSums,
  type LayerSums,
  makeSums,
  noiseOf,
  type Region,
  type SumsKept,
} from "./frame-sums";
import { Integrator } from "./integrator";
import type { LightLookup } from "./gathered-light";
import { drawOutline } from "./outline";
import { SampleRandom } from "./random";
import type { Texture } from "./texture";
import { Tracer } from "./tracer";
import { makeCamera, makeWorld } from "./world";

/** Changes whenever a picture would: part of every look fingerprint. */
export const RENDERER_VERSION = "2";

export interface FrameRequest {
  readonly scene: Scene;
  /** By the file's name in the scene. */
  readonly textures: ReadonlyMap<string, Texture>;
  /** As the scene calls it. */
  readonly camera: string;
  /** Scene time in frames; may be a fraction. */
  readonly frame: number;
  /** Pixels, after the scale. */
  readonly width: number;
  readonly height: number;
  /** A pixel, at most. */
  readonly samples: number;
  /** Of the random numbers. */
  readonly seed: number;
  /** Width of a pixel over its height; 1 when left out. */
  readonly pixelAspect?: number;
  readonly filter?: FilterSettings;
  readonly shading?: Shading;
  /** Share of a frame that the shutter is open; the scene's own when left out. */
  readonly shutter?: number;
  /** null: everything is sharp. Left out: as the scene says. */
  readonly lens?: Lens | null;
  /** Camera place of a move that the plan makes. */
  readonly view?: { readonly position: Vec3; readonly target: Vec3 };
  /** The same grain on every frame, instead of another on each. */
  readonly sameGrain?: boolean;
  /** Stops once the picture's noise is at most this, but not before `minSamples`. */
  readonly noiseTarget?: number;
  readonly minSamples?: number;
  /** Rounds where nothing is said. */
  readonly sampling?: Sampling;
  /** Indirect light that was gathered before; left out, every path finds its own. */
  readonly lighting?: LightLookup;
  /** Keep what the passes besides beauty need, and the denoiser. */
  readonly layers?: boolean;
  /** Keep what a picture with alpha needs; left out, it is kept. */
  readonly cover?: boolean;
}

/** What sums a render of a request keeps. */
export const sumsKeptBy = (request: Pick<FrameRequest, "layers" | "cover">): SumsKept => ({
  layers: request.layers === true,
  cover: request.cover !== false,
});

/** Pixels. */
const areaOf = ({ left, top, right, bottom }: Region): number => (right - left) * (bottom - top);

/** What ended the sampling of a frame. */
export type StoppedBy = "samples" | "noise" | "time";

/** The scene has no camera of that name; the message lists those that it has. */
export class UnknownCamera extends Error {
  readonly code = "unknown-camera";
  constructor(name: string, known: readonly string[]) {
    super(`The scene has no camera "${name}"; it has ${known.join(", ")}.`);
    this.name = "UnknownCamera";
  }
}

/** Samples a pixel gets before the next one's turn: few, so that a time limit leaves an even picture. */
const ROUND_SAMPLES = 4;
/** Every sample in its own pixel, all alike. */
const PIXEL: FilterSettings = { kind: "box", radius: 0.5 };

/**
 * Side of a tile in pixels: small enough that a stop between tiles loses little, large enough that a noise
 * target means something.
 */
const TILE_SIDE = 32;

/** What is sampled to its end before the next begins. */
function regionsOf(width: number, height: number, sampling: Sampling): Region[] {
  if (sampling === "rounds") return [{ left: 0, top: 0, right: width, bottom: height }];
  const tiles: Region[] = [];
  for (let top = 0; top < height; top += TILE_SIDE) {
    for (let left = 0; left < width; left += TILE_SIDE)
      tiles.push({
        left,
        top,
        right: Math.min(width, left + TILE_SIDE),
        bottom: Math.min(height, top + TILE_SIDE),
      });
  }
  return tiles;
}

/** Where the sampling stands: with the sums, all that is needed to go on. */
export interface Cursor {
  /** Index of the region that is sampled. */
  readonly region: number;
  /** Samples of every pixel of the region once this round is over. */
  readonly goal: number;
  /** Rows of the region that this round has done. */
  readonly row: number;
}

/** Row by row. What is drawn after any row is a whole picture, only noisier. */
export class FrameRender {
  readonly #request: FrameRequest;
  readonly #tracer: Tracer;
  readonly #integrator: Integrator;
  readonly #random: SampleRandom;
  readonly #camera: NonNullable<ReturnType<typeof makeCamera>>;
  readonly #filter: PixelFilter;
  readonly #regions: readonly Region[];
  readonly sums: FrameSums;
  #cursor: Cursor;
  #stoppedBy: StoppedBy | null = null;

  /**
   * @param from sums of the same request (or of fewer samples, in rounds) and where they stand, to go on
   * from; they are taken over
   */
  constructor(
    request: FrameRequest,
    from: { readonly sums: FrameSums; readonly cursor: Cursor } | null = null,
  ) {
    const { scene, width, height, samples } = request;
    const camera = makeCamera(scene, request.camera, request.frame, {
      ...(request.lens === undefined ? {} : { lens: request.lens }),
      ...(request.view === undefined ? {} : { view: request.view }),
    });
    if (camera === null)
      throw new UnknownCamera(
        request.camera,
        scene.cameras.map((c) => c.name),
      );
    this.#request = request;
    this.#camera = camera;
    this.#filter = makeFilter(request.filter ?? PIXEL);
    this.#tracer = new Tracer(
      makeWorld(scene, request.textures, request.frame, request.shutter ?? scene.shutter),
    );
    this.#random = new SampleRandom(request.seed, request.sameGrain === true ? 0 : request.frame);
    this.#integrator = new Integrator(
      this.#tracer,
      this.#random,
      request.shading ?? "full",
      request.lighting ?? null,
      scene.exposure,
    );
    this.#regions = regionsOf(width, height, request.sampling ?? "rounds");
    this.sums = from?.sums ?? makeSums(width, height, sumsKeptBy(request));
    this.#cursor = from?.cursor ?? { region: 0, goal: Math.min(samples, ROUND_SAMPLES), row: 0 };
  }

  get cursor(): Cursor {
    return this.#cursor;
  }

  /** Share of the samples done, 0 to 1. */
  get progress(): number {
    const { width, height, samples } = this.#request;
    const { region, goal, row } = this.#cursor;
    if (this.#stoppedBy !== null) return 1;
    let pixels = 0;
    for (let i = 0; i < region; i++) pixels += areaOf(this.#regions[i]!);
    const now = this.#regions[region]!;
    const before = this.sums.counts[(now.bottom - 1) * width + now.right - 1]!;
    const share = (before + ((goal - before) * row) / (now.bottom - now.top)) / Math.max(samples, goal);
    return (pixels + areaOf(now) * share) / (width * height);
  }

  /** Rays asked so far: camera, bounce and shadow rays alike. */
  get rays(): number {
    return this.#tracer.queries;
  }

  /** Samples that every pixel has. */
  get samples(): number {
    return this.sums.counts.reduce((least, n) => Math.min(least, n), Number.POSITIVE_INFINITY);
  }

  get stoppedBy(): StoppedBy | null {
    return this.#stoppedBy;
  }

  /** Noise of the picture so far. */
  get noise(): number {
    const { width, height } = this.#request;
    return noiseOf(this.sums, { left: 0, top: 0, right: width, bottom: height });
  }

  get pictures(): FramePictures {
    return new FramePictures(this.sums, this.#request.scene.exposure);
  }

  /** Ends the sampling here. Refused while there is no whole picture. */
  stop(by: StoppedBy): boolean {
    if (this.samples === 0) return false;
    this.#stoppedBy ??= by;
    return true;
  }

  /** Renders the next row of the round; false when the frame is done. */
  renderRow(): boolean {
    if (this.#stoppedBy !== null) return false;
    let { region, goal, row } = this.#cursor;
    if (row >= this.#regions[region]!.bottom - this.#regions[region]!.top) {
      const ended = this.#endOf(region, goal);
      if (ended !== null && region + 1 === this.#regions.length) {
        this.#stoppedBy = ended;
        return false;
      }
      row = 0;
      // Rounds end at whole multiples, wherever an earlier render of fewer samples stopped: its decisions are
      // then those of one that went through.
      goal = Math.min(
        this.#request.samples,
        ended === null ? (Math.floor(goal / ROUND_SAMPLES) + 1) * ROUND_SAMPLES : ROUND_SAMPLES,
      );
      if (ended !== null) region++;
    }
    this.#sampleRow(this.#regions[region]!, row, goal);
    this.#cursor = { region, goal, row: row + 1 };
    return true;
  }

  /** What ends the sampling of a region after a whole round, or null. */
  #endOf(region: number, goal: number): StoppedBy | null {
    const { samples, noiseTarget, minSamples } = this.#request;
    if (goal >= samples) return "samples";
    return noiseTarget !== undefined &&
      goal >= (minSamples ?? 1) &&
      noiseOf(this.sums, this.#regions[region]!) <= noiseTarget
      ? "noise"
      : null;
  }

  /** Brings each pixel of the row to so many samples. */
  #sampleRow({ left, top, right: end }: Region, row: number, goal: number): void {
    const { width, height } = this.#request;
    const y = top + row;
    const {
      position: [ox, oy, oz],
      right,
      up,
      forward,
      halfWidth,
      lensRadius,
      focusDistance,
    } = this.#camera;
    const random = this.#random;
    const integrator = this.#integrator;
    const { radiance, background } = integrator;
    const filter = this.#filter;
    const { light: sums, tones, squares, counts, cover, layers } = this.sums;
    const halfHeight = (halfWidth * height) / width / (this.#request.pixelAspect ?? 1);
    const exposure = this.#request.scene.exposure;
    const isLine = this.#request.shading === "line";
    const pixelWide = (2 * halfWidth) / width,
      pixelHigh = (2 * halfHeight) / height;
    for (let x = left; x < end; x++) {
      const pixel = y * width + x;
      const at = pixel * 3;
      for (let s = counts[pixel]!; s < goal; s++) {
        random.begin(pixel, s);
        const fx = filter.offset(random.next()),
          fy = filter.offset(random.next());
        const weight = filter.weight(fx) * filter.weight(fy);
        const sx = (((x + 0.5 + fx) / width) * 2 - 1) * halfWidth;
        const sy = (1 - ((y + 0.5 + fy) / height) * 2) * halfHeight;
        this.#tracer.setTime(random.next());
        let dx = forward[0] + right[0] * sx + up[0] * sy;
        let dy = forward[1] + right[1] * sx + up[1] * sy;
        let dz = forward[2] + right[2] * sx + up[2] * sy;
        let px = ox,
          py = oy,
          pz = oz;
        if (lensRadius > 0) {
          // Even over the opening; the ray still meets the same point of the sharp plane.
          const radius = lensRadius * Math.sqrt(random.next());
          const angle = 2 * Math.PI * random.next();
          const lx = radius * Math.cos(angle),
            ly = radius * Math.sin(angle);
          const mx = right[0] * lx + up[0] * ly,
            my = right[1] * lx + up[1] * ly,
            mz = right[2] * lx + up[2] * ly;
          px += mx;
          py += my;
          pz += mz;
          dx = dx * focusDistance - mx;
          dy = dy * focusDistance - my;
          dz = dz * focusDistance - mz;
        }
        if (isLine)
          drawOutline(
            integrator,
            (toRight, below) => this.#traceSharp(sx + toRight * pixelWide, sy - below * pixelHigh),
            exposure,
          );
        else {
          const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
          integrator.trace(px, py, pz, dx * scale, dy * scale, dz * scale);
        }
        for (let c = 0; c < 3; c++) sums[at + c]! += weight * radiance[c]!;
        if (cover !== null) {
          for (let c = 0; c < 3; c++) cover.background[at + c]! += weight * background[c]!;
          cover.alpha[pixel]! += weight * integrator.met;
        }
        const light = exposure * (0.2126 * radiance[0]! + 0.7152 * radiance[1]! + 0.0722 * radiance[2]!);
        const tone = weight * (light / (1 + light));
        tones[pixel]! += tone;
        squares[pixel]! += tone * tone;
        if (layers !== null) this.#addLayers(layers, pixel, weight);
      }
      counts[pixel] = Math.max(counts[pixel]!, goal);
    }
  }

  /** A ray through the middle of the lens: a line drawing is sharp everywhere. */
  #traceSharp(sx: number, sy: number): void {
    const {
      position: [ox, oy, oz],
      right,
      up,
      forward,
    } = this.#camera;
    const dx = forward[0] + right[0] * sx + up[0] * sy;
    const dy = forward[1] + right[1] * sx + up[1] * sy;
    const dz = forward[2] + right[2] * sx + up[2] * sy;
    const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
    this.#integrator.trace(ox, oy, oz, dx * scale, dy * scale, dz * scale);
  }

  /** What the sample's first surface tells, for the passes. */
  #addLayers(layers: LayerSums, pixel: number, weight: number): void {
    const { direct, albedo, normal, met, distance } = this.#integrator;
    const at = pixel * 3;
    for (let c = 0; c < 3; c++) layers.direct[at + c]! += weight * direct[c]!;
    if (met === 0) return;
    // Guides take every sample alike: a lobe's minus would bend normals and distances.
    layers.met[pixel]!++;
    layers.depth[pixel]! += distance;
    for (let c = 0; c < 3; c++) {
      layers.albedo[at + c]! += albedo[c]!;
      layers.normal[at + c]! += normal[c]!;
    }
  }
}
