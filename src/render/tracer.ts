/**
 * Nearest hit and light transmission of rays in a world. One object a frame; its hit fields are
 * overwritten by each query, so that no ray allocates. `queries` counts each question once.
 */
import { meetBox, meetCone, meetPlane, meetSphere, meetTorus, SHAPE, T_MIN } from "./shapes";
import { invertInto } from "./matrix";
import type { World } from "./world";

const TAU = Math.PI * 2;

/** `queries` counts for the benchmark of rays. */
export class Tracer {
  queries = 0;
  /** Body of the last hit, -1 for none. */
  body = -1;
  t = 0;
  /** Normal at the hit, unit length, outwards. */
  nx = 0;
  ny = 0;
  nz = 0;
  /** Local height of the hit, for fading glows. */
  localY = 0;
  u = 0;
  v = 0;

  readonly world: World;
  readonly #between = new Float64Array(12);

  constructor(world: World) {
    this.world = world;
  }

  /** Puts moving bodies where they are at a share of the shutter time. */
  setTime(share: number): void {
    const { moving, open, close, inverse } = this.world;
    for (const body of moving) {
      const at = body * 12;
      for (let k = 0; k < 12; k++)
        this.#between[k] = open[at + k]! + (close[at + k]! - open[at + k]!) * share;
      invertInto(inverse, at, this.#between, 0);
    }
  }

  /** Distance along the ray to the body, or none up to tMax. */
  #meet(
    body: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    tMax: number,
  ): number {
    const m = this.world.inverse;
    const at = body * 12;
    const m4 = m[at + 4]!,
      m5 = m[at + 5]!,
      m6 = m[at + 6]!;
    const ly = m4 * ox + m5 * oy + m6 * oz + m[at + 7]!;
    const my = m4 * dx + m5 * dy + m6 * dz;
    const shape = this.world.shape[body]!;
    if (shape === SHAPE.plane) return meetPlane(ly, my, T_MIN, tMax);
    const m0 = m[at]!,
      m1 = m[at + 1]!,
      m2 = m[at + 2]!,
      m8 = m[at + 8]!,
      m9 = m[at + 9]!,
      m10 = m[at + 10]!;
    const lx = m0 * ox + m1 * oy + m2 * oz + m[at + 3]!;
    const lz = m8 * ox + m9 * oy + m10 * oz + m[at + 11]!;
    const mx = m0 * dx + m1 * dy + m2 * dz;
    const mz = m8 * dx + m9 * dy + m10 * dz;
    switch (shape) {
      case SHAPE.sphere:
        return meetSphere(lx, ly, lz, mx, my, mz, T_MIN, tMax);
      case SHAPE.box:
        return meetBox(lx, ly, lz, mx, my, mz, T_MIN, tMax);
      case SHAPE.torus:
        return meetTorus(lx, ly, lz, mx, my, mz, this.world.form[body]!, T_MIN, tMax);
      default:
        return meetCone(lx, ly, lz, mx, my, mz, this.world.form[body]!, T_MIN, tMax);
    }
  }

  /** Finds the nearest hit before tMax. True when there is one; `surface` then fills in the rest. */
  nearest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMax: number): boolean {
    this.queries++;
    const { endless, tree } = this.world;
    let best = tMax;
    let found = -1;
    for (let i = 0; i < endless.length; i++) {
      const t = this.#meet(endless[i]!, ox, oy, oz, dx, dy, dz, best);
      if (t > 0) {
        best = t;
        found = endless[i]!;
      }
    }
    const { boxes, body, skip } = tree;
    const ix = 1 / dx,
      iy = 1 / dy,
      iz = 1 / dz;
    const end = body.length;
    let node = 0;
    while (node < end) {
      const b = node * 6;
      const x1 = (boxes[b]! - ox) * ix,
        x2 = (boxes[b + 3]! - ox) * ix;
      const y1 = (boxes[b + 1]! - oy) * iy,
        y2 = (boxes[b + 4]! - oy) * iy;
      const z1 = (boxes[b + 2]! - oz) * iz,
        z2 = (boxes[b + 5]! - oz) * iz;
      const near = Math.max(x1 < x2 ? x1 : x2, y1 < y2 ? y1 : y2, z1 < z2 ? z1 : z2, 0);
      const far = Math.min(x1 < x2 ? x2 : x1, y1 < y2 ? y2 : y1, z1 < z2 ? z2 : z1, best);
      if (near > far) {
        node = skip[node]!;
        continue;
      }
      const leaf = body[node]!;
      if (leaf >= 0) {
        const t = this.#meet(leaf, ox, oy, oz, dx, dy, dz, best);
        if (t > 0) {
          best = t;
          found = leaf;
        }
      }
      node++;
    }
    this.body = found;
    this.t = best;
    return found >= 0;
  }

  /** Normal and texture place of the last hit. */
  surface(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): void {
    const { inverse: m, shape, form, repeat } = this.world;
    const body = this.body;
    const at = body * 12;
    const px = ox + dx * this.t,
      py = oy + dy * this.t,
      pz = oz + dz * this.t;
    const x = m[at]! * px + m[at + 1]! * py + m[at + 2]! * pz + m[at + 3]!;
    const y = m[at + 4]! * px + m[at + 5]! * py + m[at + 6]! * pz + m[at + 7]!;
    const z = m[at + 8]! * px + m[at + 9]! * py + m[at + 10]! * pz + m[at + 11]!;
    let nx = 0,
      ny = 0,
      nz = 0,
      u = 0,
      v = 0;
    switch (shape[body]!) {
      case SHAPE.sphere:
        nx = x;
        ny = y;
        nz = z;
        u = Math.atan2(x, z) / TAU + 0.5;
        v = 0.5 + Math.asin(y < -1 ? -1 : y > 1 ? 1 : y) / Math.PI;
        break;
      case SHAPE.box: {
        const ax = Math.abs(x),
          ay = Math.abs(y),
          az = Math.abs(z);
        if (ax >= ay && ax >= az) {
          nx = x < 0 ? -1 : 1;
          u = (1 - nx * z) / 2;
          v = (y + 1) / 2;
        } else if (ay >= az) {
          ny = y < 0 ? -1 : 1;
          u = (x + 1) / 2;
          v = (z + 1) / 2;
        } else {
          nz = z < 0 ? -1 : 1;
          u = (1 + nz * x) / 2;
          v = (y + 1) / 2;
        }
        break;
      }
      case SHAPE.plane:
        ny = 1;
        u = x;
        v = z;
        break;
      case SHAPE.torus: {
        const ring = Math.sqrt(x * x + z * z) || 1;
        nx = x - x / ring;
        ny = y;
        nz = z - z / ring;
        u = Math.atan2(x, z) / TAU + 0.5;
        v = Math.atan2(y, ring - 1) / TAU + 0.5;
        break;
      }
      default: {
        const k = form[body]! - 1;
        const r = x * x + z * z;
        const side = 1 + k * y;
        const onEnd = (y < 1e-6 || y > 1 - 1e-6) && r < side * side * 0.999999;
        if (onEnd) {
          ny = y < 0.5 ? -1 : 1;
          u = (x + 1) / 2;
          v = (z + 1) / 2;
        } else {
          nx = x;
          ny = -k * side;
          nz = z;
          u = Math.atan2(x, z) / TAU + 0.5;
          v = y;
        }
      }
    }
    // Normals go through the inverse transposed.
    const wx = m[at]! * nx + m[at + 4]! * ny + m[at + 8]! * nz;
    const wy = m[at + 1]! * nx + m[at + 5]! * ny + m[at + 9]! * nz;
    const wz = m[at + 2]! * nx + m[at + 6]! * ny + m[at + 10]! * nz;
    const scale = 1 / Math.sqrt(wx * wx + wy * wy + wz * wz);
    this.nx = wx * scale;
    this.ny = wy * scale;
    this.nz = wz * scale;
    this.localY = y;
    this.u = u * repeat[body * 2]!;
    this.v = v * repeat[body * 2 + 1]!;
  }

  /**
   * Light that passes along a ray up to tMax: 0 behind a solid body; thin panes take their share; glows stop
   * nothing.
   */
  transmission(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, tMax: number): number {
    let passed = 1;
    let from = 0;
    // A handful of panes is the most that a scene stacks up; beyond it the way counts as blocked.
    for (let pane = 0; pane < 8; pane++) {
      const px = ox + dx * from,
        py = oy + dy * from,
        pz = oz + dz * from;
      if (!this.nearest(px, py, pz, dx, dy, dz, tMax - from)) return passed;
      const material = this.world.material[this.body]!;
      if (material.kind === "glass" && material.thin) {
        this.surface(px, py, pz, dx, dy, dz);
        passed *= 1 - paneReflectance(Math.abs(this.nx * dx + this.ny * dy + this.nz * dz), material.ior);
      } else if (!(material.kind === "emitter" && material.glow)) {
        return 0;
      }
      from += this.t + T_MIN;
      if (from >= tMax) return passed;
    }
    return 0;
  }
}

/** Reflectance of a smooth border (Schlick 1994). */
export function fresnel(cosine: number, ior: number): number {
  const r = (1 - ior) / (1 + ior);
  const k = 1 - cosine;
  return r * r + (1 - r * r) * k * k * k * k * k;
}

/** A pane has two borders; light that goes to and fro between them adds up to 2F / (1 + F). */
export function paneReflectance(cosine: number, ior: number): number {
  const f = fresnel(cosine, ior);
  return (2 * f) / (1 + f);
}
