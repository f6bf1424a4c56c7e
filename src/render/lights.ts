/**
 * The light that a path meets: the sky, the sun, and lamps. What is found is added to the path's radiance,
 * times the throughput (tr, tg, tb) of the way to it.
 */
import type { Vec3 } from "@/contract/scene";
import type { SampleRandom } from "./random";
import type { Tracer } from "./tracer";
import { unit, type World } from "./world";

/** Farther than anything in a scene. */
export const FAR = 1e9;

interface Sun {
  readonly direction: Vec3;
  readonly radiance: Vec3;
  /** Of half its diameter. */
  readonly cosine: number;
}

/** One object a frame, which the integrator asks. */
export class Lights {
  readonly #tracer: Tracer;
  readonly #world: World;
  readonly #random: SampleRandom;
  readonly #out: Float64Array;
  readonly #sun: Sun | null;

  /** @param out radiance of the path, added to */
  constructor(tracer: Tracer, random: SampleRandom, out: Float64Array) {
    this.#tracer = tracer;
    this.#world = tracer.world;
    this.#random = random;
    this.#out = out;
    const sun = tracer.world.sky.sun;
    if (sun === undefined || sun.strength === 0) this.#sun = null;
    else {
      const cosine = Math.cos((sun.angle * Math.PI) / 360);
      // `strength` is the irradiance of a surface that faces the sun; radiance follows from its solid angle.
      const solidAngle = 2 * Math.PI * (1 - cosine);
      this.#sun = {
        direction: unit(sun.direction),
        cosine,
        radiance: [
          (sun.colour[0] * sun.strength) / solidAngle,
          (sun.colour[1] * sun.strength) / solidAngle,
          (sun.colour[2] * sun.strength) / solidAngle,
        ],
      };
    }
  }

  /**
   * What the sky shows in a direction, and the sun where it stands there.
   * @param seesLights false after a diffuse surface: the sun was aimed at from it
   */
  addSky(dx: number, dy: number, dz: number, tr: number, tg: number, tb: number, seesLights: boolean): void {
    const { zenith, horizon, ground } = this.#world.sky;
    const out = this.#out;
    // Most of the change is near the horizon, as in the real sky.
    const high = dy > 0 ? Math.sqrt(dy) : 0;
    const low = dy < 0 ? Math.min(1, -dy * 6) : 0;
    const other = dy >= 0 ? zenith : ground;
    const k = dy >= 0 ? high : low;
    out[0]! += tr * (horizon[0] + (other[0] - horizon[0]) * k);
    out[1]! += tg * (horizon[1] + (other[1] - horizon[1]) * k);
    out[2]! += tb * (horizon[2] + (other[2] - horizon[2]) * k);
    const sun = this.#sun;
    if (
      sun !== null &&
      seesLights &&
      dx * sun.direction[0] + dy * sun.direction[1] + dz * sun.direction[2] > sun.cosine
    ) {
      out[0]! += tr * sun.radiance[0];
      out[1]! += tg * sun.radiance[1];
      out[2]! += tb * sun.radiance[2];
    }
  }

  /** Light of one aimed source, chosen evenly, at a diffuse point; throughput holds the colour already. */
  addAimed(
    px: number,
    py: number,
    pz: number,
    nx: number,
    ny: number,
    nz: number,
    tr: number,
    tg: number,
    tb: number,
  ): void {
    const { lights } = this.#world;
    const sources = lights.length + (this.#sun === null ? 0 : 1);
    if (sources === 0) return;
    const pick = Math.min(sources - 1, Math.floor(this.#random.next() * sources));
    const light = pick < lights.length ? lights[pick]! : null;
    let ax: number,
      ay: number,
      az: number,
      cosineMax: number,
      distance = FAR;
    let radiance: Vec3;
    if (light === null) {
      const { direction } = this.#sun!;
      ax = direction[0];
      ay = direction[1];
      az = direction[2];
      cosineMax = this.#sun!.cosine;
      radiance = this.#sun!.radiance;
    } else {
      ax = light.centre[0] - px;
      ay = light.centre[1] - py;
      az = light.centre[2] - pz;
      const d = Math.sqrt(ax * ax + ay * ay + az * az);
      if (d <= light.radius) return;
      ax /= d;
      ay /= d;
      az /= d;
      cosineMax = Math.sqrt(1 - (light.radius / d) * (light.radius / d));
      // Up to the sphere's near side; the last bit is left out so that the lamp does not shade itself.
      distance = d - light.radius * 1.001;
      radiance = light.radiance;
    }
    // Even over the cone of directions that the source fills.
    const cosine = 1 - this.#random.next() * (1 - cosineMax);
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const angle = 2 * Math.PI * this.#random.next();
    const flat = Math.abs(ax) < 0.9;
    let ux = flat ? 0 : -az,
      uy = flat ? az : 0,
      uz = flat ? -ay : ax;
    const ul = 1 / Math.sqrt(ux * ux + uy * uy + uz * uz);
    ux *= ul;
    uy *= ul;
    uz *= ul;
    const vx = ay * uz - az * uy,
      vy = az * ux - ax * uz,
      vz = ax * uy - ay * ux;
    const c = Math.cos(angle) * sine,
      s = Math.sin(angle) * sine;
    const dx = ax * cosine + ux * c + vx * s,
      dy = ay * cosine + uy * c + vy * s,
      dz = az * cosine + uz * c + vz * s;
    const facing = dx * nx + dy * ny + dz * nz;
    if (facing <= 0) return;
    const passed = this.#tracer.transmission(px, py, pz, dx, dy, dz, distance);
    if (passed === 0) return;
    // radiance x cosine / pi x solid angle (2 pi (1 - cosineMax)) x number of sources
    const k = 2 * facing * (1 - cosineMax) * sources * passed;
    const out = this.#out;
    out[0]! += tr * radiance[0] * k;
    out[1]! += tg * radiance[1] * k;
    out[2]! += tb * radiance[2] * k;
  }
}
