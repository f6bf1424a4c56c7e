/**
 * Gathers the records of gathered light for one frame: at the first diffuse points that the camera sees on an
 * even grid of the picture.
 */
import type { SceneLighting } from "@/contract/scene";
import { Integrator } from "./integrator";
import { LightRecords } from "./gathered-light";
import { SampleRandom } from "./random";
import { type FrameRequest, UnknownCamera } from "./render-frame";
import { Tracer } from "./tracer";
import { makeCamera, makeWorld } from "./world";

/** Points along the picture's width, and rays from each. */
const LIGHTING_DEFAULTS = { points: 64, rays: 128 } as const;
/**
 * Radius of a record in steps of the grid: at least so that its neighbours are reached, at most so that no
 * point reads dozens of records (at 12 reading cost more than the paths it saved).
 */
const NEAREST = 2;
/** In spacings: how far a record may be read from. */
const FARTHEST = 2.5;
/** Numbers of the random sequence that no pixel of a picture has. */
const FIRST_POINT = 1 << 28;

/** Goes point by point, so that its driver can report and hear an abort between two of them. */
export class LightGather {
  readonly #request: FrameRequest;
  readonly #columns: number;
  readonly #rows: number;
  readonly #rays: number;
  readonly #tracer: Tracer;
  readonly #integrator: Integrator;
  readonly #random: SampleRandom;
  readonly #camera: NonNullable<ReturnType<typeof makeCamera>>;
  readonly #records: number[] = [];
  #row = 0;

  constructor(
    request: FrameRequest,
    { points = LIGHTING_DEFAULTS.points, rays = LIGHTING_DEFAULTS.rays }: SceneLighting,
  ) {
    const { scene, width, height } = request;
    const camera = makeCamera(scene, request.camera, request.frame, {
      lens: null,
      ...(request.view === undefined ? {} : { view: request.view }),
    });
    if (camera === null)
      throw new UnknownCamera(
        request.camera,
        scene.cameras.map((c) => c.name),
      );
    this.#request = request;
    this.#camera = camera;
    this.#columns = points;
    this.#rows = Math.max(1, Math.round((points * height) / width / (request.pixelAspect ?? 1)));
    this.#rays = rays;
    this.#tracer = new Tracer(
      makeWorld(scene, request.textures, request.frame, request.shutter ?? scene.shutter),
    );
    // The same rays on every frame: what is left of their noise stands still.
    this.#random = new SampleRandom(request.seed, 0);
    this.#integrator = new Integrator(this.#tracer, this.#random);
  }

  /** Share of the points done, 0 to 1. */
  get progress(): number {
    return this.#row / this.#rows;
  }

  /** Gathers the next row of points; false when there is none left. */
  gatherRow(): boolean {
    if (this.#row >= this.#rows) return false;
    for (let column = 0; column < this.#columns; column++) this.#gatherPoint(column, this.#row);
    this.#row++;
    return true;
  }

  get records(): LightRecords {
    return new LightRecords(Float32Array.from(this.#records));
  }

  /** One point: what the camera sees there, and the light that comes to it. */
  #gatherPoint(column: number, row: number): void {
    const {
      position: [ox, oy, oz],
      right,
      up,
      forward,
      halfWidth,
    } = this.#camera;
    const integrator = this.#integrator;
    const halfHeight =
      (halfWidth * this.#request.height) / this.#request.width / (this.#request.pixelAspect ?? 1);
    const sx = (((column + 0.5) / this.#columns) * 2 - 1) * halfWidth,
      sy = (1 - ((row + 0.5) / this.#rows) * 2) * halfHeight;
    const dx = forward[0] + right[0] * sx + up[0] * sy,
      dy = forward[1] + right[1] * sx + up[1] * sy,
      dz = forward[2] + right[2] * sx + up[2] * sy;
    const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
    const point = FIRST_POINT + row * this.#columns + column;
    this.#random.begin(point, 0);
    this.#tracer.setTime(0.5);
    integrator.trace(ox, oy, oz, dx * scale, dy * scale, dz * scale);
    if (!integrator.hasPoint) return;
    const [px = 0, py = 0, pz = 0] = integrator.point;
    const [nx = 0, ny = 0, nz = 0] = integrator.pointNormal;
    const light = [0, 0, 0];
    let inverse = 0,
      seen = 0;
    for (let ray = 1; ray <= this.#rays; ray++) {
      this.#random.begin(point, ray);
      this.#tracer.setTime(this.#random.next());
      // Cosine-weighted, as in the integrator.
      const z = 1 - 2 * this.#random.next(),
        r = Math.sqrt(Math.max(0, 1 - z * z)),
        angle = 2 * Math.PI * this.#random.next();
      let rx = nx + r * Math.cos(angle),
        ry = ny + z,
        rz = nz + r * Math.sin(angle);
      const length = Math.sqrt(rx * rx + ry * ry + rz * rz);
      if (length < 1e-6) {
        rx = nx;
        ry = ny;
        rz = nz;
      } else {
        rx /= length;
        ry /= length;
        rz /= length;
      }
      integrator.gather(px, py, pz, rx, ry, rz);
      for (let c = 0; c < 3; c++) light[c]! += integrator.radiance[c]! / this.#rays;
      if (integrator.met === 1 && integrator.distance > 0) {
        inverse += 1 / integrator.distance;
        seen++;
      }
    }
    const spacing = (2 * halfWidth * Math.hypot(px - ox, py - oy, pz - oz)) / this.#columns;
    const harmonic = inverse === 0 ? Number.POSITIVE_INFINITY : seen / inverse;
    this.#records.push(
      px,
      py,
      pz,
      nx,
      ny,
      nz,
      light[0]!,
      light[1]!,
      light[2]!,
      Math.min(FARTHEST * spacing, Math.max(NEAREST * spacing, harmonic)),
    );
  }
}
