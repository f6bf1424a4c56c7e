/**
 * Renders one frame in rounds over the whole picture, row by row, so that its driver can report
 * progress and hear an abort between rows, and can stop it with a picture in hand.
 *
 * Sums of a pixel add up in the order of its samples, whatever the rounds: at equal samples the
 * picture is the same bit for bit.
 */
import type { Scene, Vec3 } from "@/contract/scene";
import type { Lens } from "@/core/plan/lens";
import type { FloatImage } from "@/core/image/pixels";
import type { FilterSettings, Shading } from "@/core/plan/picture";
import { denoise } from "./denoise";
import { makeFilter, type PixelFilter } from "./filter";
import { Integrator } from "./integrator";
import { SKY_DEPTH } from "./layers";
import { SampleRandom } from "./random";
import type { Texture } from "./texture";
import { Tracer } from "./tracer";
import { makeCamera, makeWorld } from "./world";

/** Changes whenever a picture would: part of every look fingerprint. */
export const RENDERER_VERSION = "2";

export interface FrameRequest {
  readonly scene: Scene;
  readonly textures: ReadonlyMap<string, Texture>;
  readonly camera: string;
  /** Scene time in frames; may be a fraction. */
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  readonly samples: number;
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
  /** Keep what the passes besides beauty need, and the denoiser. */
  readonly layers?: boolean;
}

/** What ended the sampling of a frame. */
export type StoppedBy = "samples" | "noise" | "time";

export class UnknownCamera extends Error {
  readonly code = "unknown-camera";
  constructor(name: string, known: readonly string[]) {
    super(`The scene has no camera "${name}"; it has ${known.join(", ")}.`);
    this.name = "UnknownCamera";
  }
}

/** Samples a pixel gets before the next one's turn: few, so that a time limit leaves an even picture. */
const ROUND_SAMPLES = 4;
const PIXEL: FilterSettings = { kind: "box", radius: 0.5 };

/** Sums over the samples of each pixel, besides beauty. */
interface LayerSums {
  readonly direct: Float64Array;
  readonly albedo: Float64Array;
  readonly normal: Float64Array;
  readonly depth: Float64Array;
  /** Number of samples that met a body. */
  readonly met: Float64Array;
}

export class FrameRender {
  readonly #request: FrameRequest;
  readonly #tracer: Tracer;
  readonly #integrator: Integrator;
  readonly #random: SampleRandom;
  readonly #camera: NonNullable<ReturnType<typeof makeCamera>>;
  readonly #filter: PixelFilter;
  /** Sums of radiance, width x height x 3. */
  readonly #sums: Float64Array;
  readonly #background: Float64Array;
  readonly #alpha: Float64Array;
  /** Sums of squares of tone-compressed luminance, and of it: for the noise. */
  readonly #squares: Float64Array;
  readonly #tones: Float64Array;
  readonly #layers: LayerSums | null;
  /** Samples that each row has. */
  readonly #counts: Uint32Array;
  /** Samples of every pixel once this round is over. */
  #goal: number;
  #row = 0;
  #stoppedBy: StoppedBy | null = null;

  constructor(request: FrameRequest) {
    const { scene, width, height } = request;
    const camera = makeCamera(scene, request.camera, request.frame, { ...(request.lens === undefined ? {} : { lens: request.lens }), ...(request.view === undefined ? {} : { view: request.view }) });
    if (camera === null) throw new UnknownCamera(request.camera, scene.cameras.map((c) => c.name));
    this.#request = request;
    this.#camera = camera;
    this.#filter = makeFilter(request.filter ?? PIXEL);
    this.#tracer = new Tracer(makeWorld(scene, request.textures, request.frame, request.shutter ?? scene.shutter));
    this.#random = new SampleRandom(request.seed, request.sameGrain === true ? 0 : request.frame);
    this.#integrator = new Integrator(this.#tracer, this.#random, request.shading ?? "full");
    const pixels = width * height;
    this.#sums = new Float64Array(pixels * 3);
    this.#background = new Float64Array(pixels * 3);
    this.#alpha = new Float64Array(pixels);
    this.#squares = new Float64Array(pixels);
    this.#tones = new Float64Array(pixels);
    this.#layers = request.layers !== true ? null : {
      direct: new Float64Array(pixels * 3), albedo: new Float64Array(pixels * 3), normal: new Float64Array(pixels * 3), depth: new Float64Array(pixels), met: new Float64Array(pixels),
    };
    this.#counts = new Uint32Array(height);
    this.#goal = Math.min(request.samples, ROUND_SAMPLES);
  }

  /** Share of the samples done, 0 to 1. */
  get progress(): number {
    const { samples, height } = this.#request;
    const before = this.#counts[height - 1]!;
    return (before + ((this.#goal - before) * this.#row) / height) / samples;
  }

  /** Rays asked so far: camera, bounce and shadow rays alike. */
  get rays(): number {
    return this.#tracer.queries;
  }

  /** Samples that every pixel has. */
  get samples(): number {
    return this.#counts[this.#request.height - 1]!;
  }

  get stoppedBy(): StoppedBy | null {
    return this.#stoppedBy;
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
    const { height, samples, noiseTarget, minSamples } = this.#request;
    if (this.#row >= height) {
      if (this.#goal >= samples) this.stop("samples");
      else if (noiseTarget !== undefined && this.#goal >= (minSamples ?? 1) && this.noise <= noiseTarget) this.stop("noise");
      if (this.#stoppedBy !== null) return false;
      this.#row = 0;
      this.#goal = Math.min(samples, this.#goal + ROUND_SAMPLES);
    }
    this.#sampleRow(this.#row++);
    return true;
  }

  #sampleRow(y: number): void {
    const { width, height } = this.#request;
    const { position: [ox, oy, oz], right, up, forward, halfWidth, lensRadius, focusDistance } = this.#camera;
    const random = this.#random;
    const integrator = this.#integrator;
    const { radiance, background } = integrator;
    const filter = this.#filter;
    const layers = this.#layers;
    const halfHeight = (halfWidth * height) / width / (this.#request.pixelAspect ?? 1);
    const exposure = this.#request.scene.exposure;
    for (let x = 0; x < width; x++) {
      const pixel = y * width + x;
      const at = pixel * 3;
      for (let s = this.#counts[y]!; s < this.#goal; s++) {
        random.begin(pixel, s);
        const fx = filter.offset(random.next()), fy = filter.offset(random.next());
        const weight = filter.weight(fx) * filter.weight(fy);
        const sx = (((x + 0.5 + fx) / width) * 2 - 1) * halfWidth;
        const sy = (1 - ((y + 0.5 + fy) / height) * 2) * halfHeight;
        this.#tracer.setTime(random.next());
        let dx = forward[0] + right[0] * sx + up[0] * sy;
        let dy = forward[1] + right[1] * sx + up[1] * sy;
        let dz = forward[2] + right[2] * sx + up[2] * sy;
        let px = ox, py = oy, pz = oz;
        if (lensRadius > 0) {
          // Even over the opening; the ray still meets the same point of the sharp plane.
          const radius = lensRadius * Math.sqrt(random.next());
          const angle = 2 * Math.PI * random.next();
          const lx = radius * Math.cos(angle), ly = radius * Math.sin(angle);
          const mx = right[0] * lx + up[0] * ly, my = right[1] * lx + up[1] * ly, mz = right[2] * lx + up[2] * ly;
          px += mx; py += my; pz += mz;
          dx = dx * focusDistance - mx; dy = dy * focusDistance - my; dz = dz * focusDistance - mz;
        }
        const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
        integrator.trace(px, py, pz, dx * scale, dy * scale, dz * scale);
        for (let c = 0; c < 3; c++) {
          this.#sums[at + c]! += weight * radiance[c]!;
          this.#background[at + c]! += weight * background[c]!;
        }
        this.#alpha[pixel]! += weight * integrator.met;
        const light = exposure * (0.2126 * radiance[0]! + 0.7152 * radiance[1]! + 0.0722 * radiance[2]!);
        const tone = weight * (light / (1 + light));
        this.#tones[pixel]! += tone;
        this.#squares[pixel]! += tone * tone;
        if (layers !== null) this.#addLayers(layers, pixel, weight);
      }
    }
    this.#counts[y] = this.#goal;
  }

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

  /** Noise of the picture so far: root mean square, over the pixels, of the standard error of tone-compressed luminance (L / (1 + L)); 0.01 is 1 % of white. */
  get noise(): number {
    const { width, height } = this.#request;
    let sum = 0;
    for (let pixel = 0; pixel < width * height; pixel++) {
      const n = this.#counts[Math.floor(pixel / width)]!;
      if (n < 2) return 1;
      const mean = this.#tones[pixel]! / n;
      sum += Math.max(0, this.#squares[pixel]! / n - mean * mean) / (n - 1);
    }
    return Math.sqrt(sum / (width * height));
  }

  /** Alpha: the share of each pixel that bodies cover. */
  alpha(): Float32Array {
    const { width } = this.#request;
    return Float32Array.from(this.#alpha, (sum, p) => sum / this.#counts[Math.floor(p / width)]!);
  }

  #colours(value: (at: number) => number): FloatImage {
    const { width, height, scene } = this.#request;
    const data = new Float32Array(width * height * 3);
    for (let y = 0; y < height; y++) {
      const scale = scene.exposure / this.#counts[y]!;
      for (let i = y * width * 3; i < (y + 1) * width * 3; i++) data[i] = value(i) * scale;
    }
    return { width, height, channels: 3, data };
  }

  /** Scene light times exposure. @param isolated without the sky behind the bodies, as a picture with alpha needs it */
  beauty(isolated = false): FloatImage {
    return this.#colours(isolated ? (i) => this.#sums[i]! - this.#background[i]! : (i) => this.#sums[i]!);
  }

  #requireLayers(): LayerSums {
    if (this.#layers === null) throw new Error("This render kept no layers.");
    return this.#layers;
  }

  direct(isolated = false): FloatImage {
    const { direct } = this.#requireLayers();
    return this.#colours(isolated ? (i) => direct[i]! - this.#background[i]! : (i) => direct[i]!);
  }

  indirect(): FloatImage {
    const { direct } = this.#requireLayers();
    return this.#colours((i) => this.#sums[i]! - direct[i]!);
  }

  albedo(): FloatImage {
    const { width, height } = this.#request;
    const { albedo } = this.#requireLayers();
    return { width, height, channels: 3, data: Float32Array.from(albedo, (sum, i) => sum / this.#counts[Math.floor(i / 3 / width)]!) };
  }

  /** Unit vectors; 0 where there is only sky. */
  normal(): FloatImage {
    const { width, height } = this.#request;
    const { normal } = this.#requireLayers();
    const data = new Float32Array(normal.length);
    for (let i = 0; i < data.length; i += 3) {
      const length = Math.hypot(normal[i]!, normal[i + 1]!, normal[i + 2]!);
      if (length > 0) for (let c = 0; c < 3; c++) data[i + c] = normal[i + c]! / length;
    }
    return { width, height, channels: 3, data };
  }

  /** Metres to what is met; SKY_DEPTH where there is only sky. */
  depth(): FloatImage {
    const { width, height } = this.#request;
    const { depth, met } = this.#requireLayers();
    return { width, height, channels: 1, data: Float32Array.from(depth, (sum, p) => (met[p]! > 0 ? sum / met[p]! : SKY_DEPTH)) };
  }

  denoised(isolated = false): FloatImage {
    return denoise({ beauty: this.beauty(isolated), albedo: this.albedo(), normal: this.normal(), depth: this.depth() });
  }
}
