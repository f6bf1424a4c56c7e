/**
 * Renders one frame row by row, so that its driver can report progress and hear an abort between
 * rows. The picture does not depend on the order of rows.
 */
import type { Scene } from "@/contract/scene";
import type { Rgb8Image } from "@/core/image/png-write";
import { Integrator } from "./integrator";
import { SampleRandom } from "./random";
import type { Texture } from "./texture";
import { toDisplay } from "./tone";
import { Tracer } from "./tracer";
import { makeCamera, makeWorld } from "./world";

/** Changes whenever a picture would: part of every look fingerprint. */
export const RENDERER_VERSION = "1";

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
}

export class UnknownCamera extends Error {
  readonly code = "unknown-camera";
  constructor(name: string, known: readonly string[]) {
    super(`The scene has no camera "${name}"; it has ${known.join(", ")}.`);
    this.name = "UnknownCamera";
  }
}

export class FrameRender {
  readonly #request: FrameRequest;
  readonly #tracer: Tracer;
  readonly #integrator: Integrator;
  readonly #random: SampleRandom;
  readonly #camera: NonNullable<ReturnType<typeof makeCamera>>;
  /** Sums of radiance, width x height x 3. */
  readonly #sums: Float64Array;
  #row = 0;

  constructor(request: FrameRequest) {
    const camera = makeCamera(request.scene, request.camera, request.frame);
    if (camera === null) throw new UnknownCamera(request.camera, request.scene.cameras.map((c) => c.name));
    this.#request = request;
    this.#camera = camera;
    this.#tracer = new Tracer(makeWorld(request.scene, request.textures, request.frame));
    this.#random = new SampleRandom(request.seed, request.frame);
    this.#integrator = new Integrator(this.#tracer, this.#random);
    this.#sums = new Float64Array(request.width * request.height * 3);
  }

  /** Share of the rows done, 0 to 1. */
  get progress(): number {
    return this.#row / this.#request.height;
  }

  /** Rays asked so far: camera, bounce and shadow rays alike. */
  get rays(): number {
    return this.#tracer.queries;
  }

  /** Renders the next row with all its samples; false when there is none left. */
  renderRow(): boolean {
    const { width, height, samples } = this.#request;
    if (this.#row >= height) return false;
    const { position: [ox, oy, oz], right, up, forward, halfWidth } = this.#camera;
    const random = this.#random;
    const { radiance } = this.#integrator;
    const y = this.#row++;
    const halfHeight = (halfWidth * height) / width;
    for (let x = 0; x < width; x++) {
      const pixel = y * width + x;
      let r = 0, g = 0, b = 0;
      for (let s = 0; s < samples; s++) {
        random.begin(pixel, s);
        const sx = (((x + random.next()) / width) * 2 - 1) * halfWidth;
        const sy = (1 - ((y + random.next()) / height) * 2) * halfHeight;
        this.#tracer.setTime(random.next());
        let dx = forward[0] + right[0] * sx + up[0] * sy;
        let dy = forward[1] + right[1] * sx + up[1] * sy;
        let dz = forward[2] + right[2] * sx + up[2] * sy;
        const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
        dx *= scale; dy *= scale; dz *= scale;
        this.#integrator.trace(ox, oy, oz, dx, dy, dz);
        r += radiance[0]!; g += radiance[1]!; b += radiance[2]!;
      }
      this.#sums[pixel * 3] = r;
      this.#sums[pixel * 3 + 1] = g;
      this.#sums[pixel * 3 + 2] = b;
    }
    return true;
  }

  /** The finished picture, 8 bits, ready to be written. */
  image(): Rgb8Image {
    const { width, height, samples, scene } = this.#request;
    return { width, height, data: toDisplay(this.#sums, scene.exposure / samples) };
  }
}
