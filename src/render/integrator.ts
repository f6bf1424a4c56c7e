/**
 * Radiance along a path (Kajiya 1986), with light sources aimed at from diffuse surfaces and Russian
 * roulette. Nothing is clamped, so the mean is right however many samples are taken.
 *
 * An aimed light (sphere emitter, sun) is counted where it is aimed at, or where a mirror-like path
 * meets it, never both: `seesLights` is true only after the camera, a mirror or a refraction.
 */
import { isUnlit, type Shading } from "@/core/plan/picture";
import type { LightLookup } from "./gathered-light";
import type { SampleRandom } from "./random";
import { FAR, Lights } from "./lights";
import { sampleTexture } from "./texture";
import { fresnel, paneReflectance, type Tracer } from "./tracer";
import type { World } from "./world";
import { ripple } from "./ripple";
import { onSphere, sphere } from "./on-sphere";

/**
 * Chance ends a path long before; this only bounds the worst case (0.95^61 of the paths between perfect
 * mirrors, 4 %).
 */
const MAX_BOUNCES = 64;
/**
 * From here on a path is ended by chance, and what goes on counts for what was ended (Russian roulette, Arvo
 * and Kirk 1990).
 */
const SURE_BOUNCES = 2;
/** Passing through a glow or a pane is no bounce, but has to end. */
const MAX_PASSES = 16;
/** Metres: a ray begins so far off its surface, or it would meet it again. */
const OFFSET = 1e-4;

/** Of the brightness of a surface that faces the camera, what one keeps that is seen from its edge. */
const UNLIT_RIM = 0.35;

/** One object a frame. Its result fields are overwritten by each path, so that none allocates. */
export class Integrator {
  readonly #tracer: Tracer;
  readonly #world: World;
  readonly #random: SampleRandom;
  readonly #lights: Lights;
  readonly #colour = new Float64Array(3);
  /** Radiance of the last path. */
  readonly radiance = new Float64Array(3);
  /** Its part that comes from a light (sky, sun, lamp) over at most one diffuse surface. */
  readonly direct = new Float64Array(3);
  /** Its part that is the sky itself, seen by the camera past all bodies. */
  readonly background = new Float64Array(3);
  /** What the camera's ray met first, looked at through panes and glows: 1 for a body, 0 for the sky. */
  met = 0;
  /** Metres from the camera; meaningful where `met` is 1. */
  distance = 0;
  /** Which body that is; meaningful where `met` is 1. */
  body = -1;
  /** Colour and normal of that surface, in world space, towards the camera. */
  readonly albedo = new Float64Array(3);
  readonly normal = new Float64Array(3);

  /** First diffuse point of the last path from the camera, and its normal. */
  readonly point = new Float64Array(3);
  readonly pointNormal = new Float64Array(3);
  hasPoint = false;

  readonly #isQuick: boolean;
  readonly #isUnlit: boolean;
  readonly #lighting: LightLookup | null;
  readonly #exposure: number;
  /** Indirect light at the first diffuse point that the gathered light gave, as the camera sees it. */
  readonly #cached = new Float64Array(3);

  /**
   * @param shading `direct` ends a path at its second surface: quick, and darker where light comes over a
   * corner; without light the first surface is all
   * @param exposure of the scene: what is drawn without light looks the same at any
   */
  constructor(
    tracer: Tracer,
    random: SampleRandom,
    shading: Shading = "full",
    lighting: LightLookup | null = null,
    exposure = 1,
  ) {
    this.#isQuick = shading === "direct";
    this.#isUnlit = isUnlit(shading);
    this.#lighting = lighting;
    this.#exposure = exposure;
    this.#tracer = tracer;
    this.#world = tracer.world;
    this.#random = random;
    this.#lights = new Lights(tracer, random, this.radiance);
  }

  /** Follows one path from the camera; the results are in the fields above. */
  trace(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): void {
    this.background[0] = this.background[1] = this.background[2] = 0;
    this.albedo[0] = this.albedo[1] = this.albedo[2] = 0;
    this.normal[0] = this.normal[1] = this.normal[2] = 0;
    this.met = 0;
    this.distance = 0;
    this.hasPoint = false;
    this.#cached[0] = this.#cached[1] = this.#cached[2] = 0;
    const hasIndirect = this.#follow(ox, oy, oz, dx, dy, dz, false);
    if (!hasIndirect) this.#takeDirect();
    for (let c = 0; c < 3; c++) this.radiance[c]! += this.#cached[c]!;
  }

  /**
   * Light that comes from a direction to a diffuse point and is not a light's own: what the gathered light
   * gathers. It stands in `radiance`, and the way to where it comes from in `distance`, where `met` is 1.
   */
  gather(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number): void {
    this.met = 0;
    this.distance = 0;
    this.hasPoint = true;
    const out = this.radiance;
    if (!this.#follow(ox, oy, oz, dx, dy, dz, true)) out[0] = out[1] = out[2] = 0;
    else for (let c = 0; c < 3; c++) out[c]! -= this.direct[c]!;
  }

  /** All radiance so far came directly. Number by number, as all on the way of a path. */
  #takeDirect(): void {
    const { direct, radiance } = this;
    direct[0] = radiance[0]!;
    direct[1] = radiance[1]!;
    direct[2] = radiance[2]!;
  }

  /** The first surface in its own colour, the brighter the more it faces the camera. */
  #showUnlit(tr: number, tg: number, tb: number, along: number): boolean {
    const k = (UNLIT_RIM + (1 - UNLIT_RIM) * Math.abs(along)) / this.#exposure;
    this.radiance[0]! += tr * this.albedo[0]! * k;
    this.radiance[1]! += tg * this.albedo[1]! * k;
    this.radiance[2]! += tb * this.albedo[2]! * k;
    return false;
  }

  /** What the first surface tells of itself, for the passes. */
  #meet(r: number, g: number, b: number, nx: number, ny: number, nz: number, distance: number): void {
    this.met = 1;
    this.body = this.#tracer.body;
    this.distance = distance;
    this.albedo[0] = r;
    this.albedo[1] = g;
    this.albedo[2] = b;
    this.normal[0] = nx;
    this.normal[1] = ny;
    this.normal[2] = nz;
  }

  /** True when `direct` was taken on the way, because what follows is indirect.
   * @param afterDiffuse the ray leaves a diffuse surface, whose aimed lights are counted already
   */
  #follow(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    afterDiffuse: boolean,
  ): boolean {
    const tracer = this.#tracer;
    const random = this.#random;
    const out = this.radiance;
    out[0] = out[1] = out[2] = 0;
    let tr = 1,
      tg = 1,
      tb = 1;
    let seesLights = !afterDiffuse;
    let passes = 0;
    /** Way of the camera's ray until it meets its first surface. */
    let way = 0;
    let scattered = afterDiffuse;
    let isLit = false;
    let hasIndirect = false;
    for (let bounce = 0; bounce < MAX_BOUNCES;) {
      if (!tracer.nearest(ox, oy, oz, dx, dy, dz, FAR)) {
        const r = out[0]!,
          g = out[1]!,
          b = out[2]!;
        this.#lights.addSky(dx, dy, dz, tr, tg, tb, seesLights);
        if (this.met === 0) {
          this.background[0] = out[0]! - r;
          this.background[1] = out[1]! - g;
          this.background[2] = out[2]! - b;
        }
        return hasIndirect;
      }
      tracer.surface(ox, oy, oz, dx, dy, dz);
      const body = tracer.body;
      const material = this.#world.material[body]!;
      const px = ox + dx * tracer.t,
        py = oy + dy * tracer.t,
        pz = oz + dz * tracer.t;
      let nx = tracer.nx,
        ny = tracer.ny,
        nz = tracer.nz;
      const facing = nx * dx + ny * dy + nz * dz;

      if (material.kind === "emitter") {
        if (material.glow) {
          // Each crossing adds by how squarely it is crossed, cubed: a body of glow fades softly to its rim.
          const y = Math.min(1, Math.max(0, tracer.localY));
          const k =
            Math.abs(facing * facing * facing) * (material.fade === 0 ? 1 : Math.pow(y, material.fade));
          out[0]! += tr * material.radiance[0] * k;
          out[1]! += tg * material.radiance[1] * k;
          out[2]! += tb * material.radiance[2] * k;
          if (++passes > MAX_PASSES) return hasIndirect;
          if (this.met === 0) way += tracer.t;
          ox = px + dx * OFFSET;
          oy = py + dy * OFFSET;
          oz = pz + dz * OFFSET;
          continue;
        }
        if (this.met === 0)
          this.#meet(
            Math.min(1, material.radiance[0]),
            Math.min(1, material.radiance[1]),
            Math.min(1, material.radiance[2]),
            facing > 0 ? -nx : nx,
            facing > 0 ? -ny : ny,
            facing > 0 ? -nz : nz,
            way + tracer.t,
          );
        if (seesLights || this.#world.isAimed[body] === 0) {
          out[0]! += tr * material.radiance[0];
          out[1]! += tg * material.radiance[1];
          out[2]! += tb * material.radiance[2];
        }
        return hasIndirect;
      }
      // From the surface after the first diffuse one on, light is indirect.
      if (scattered && !hasIndirect && !(material.kind === "glass" && material.thin)) {
        this.#takeDirect();
        if (this.#isQuick || isLit) return true;
        hasIndirect = true;
      }

      if (material.kind === "glass") {
        const inside = facing > 0;
        if (material.thin) {
          const reflectance = paneReflectance(Math.abs(facing), material.ior);
          if (random.next() >= reflectance) {
            tr *= material.colour[0];
            tg *= material.colour[1];
            tb *= material.colour[2];
            if (++passes > MAX_PASSES) return hasIndirect;
            if (this.met === 0) way += tracer.t;
            ox = px + dx * OFFSET;
            oy = py + dy * OFFSET;
            oz = pz + dz * OFFSET;
            continue;
          }
          if (this.met === 0)
            this.#meet(1, 1, 1, inside ? -nx : nx, inside ? -ny : ny, inside ? -nz : nz, way + tracer.t);
          if (this.#isUnlit) return this.#showUnlit(tr, tg, tb, facing);
          dx -= 2 * facing * nx;
          dy -= 2 * facing * ny;
          dz -= 2 * facing * nz;
        } else {
          if (inside) {
            nx = -nx;
            ny = -ny;
            nz = -nz;
          }
          if (this.met === 0)
            this.#meet(
              material.colour[0],
              material.colour[1],
              material.colour[2],
              nx,
              ny,
              nz,
              way + tracer.t,
            );
          if (this.#isUnlit) return this.#showUnlit(tr, tg, tb, facing);
          const cosine = Math.abs(facing);
          const eta = inside ? material.ior : 1 / material.ior;
          const k = 1 - eta * eta * (1 - cosine * cosine);
          const reflectance = k < 0 ? 1 : fresnel(inside ? Math.sqrt(k) : cosine, material.ior);
          if (random.next() < reflectance) {
            dx += 2 * cosine * nx;
            dy += 2 * cosine * ny;
            dz += 2 * cosine * nz;
          } else {
            const s = eta * cosine - Math.sqrt(k);
            dx = eta * dx + s * nx;
            dy = eta * dy + s * ny;
            dz = eta * dz + s * nz;
            tr *= material.colour[0];
            tg *= material.colour[1];
            tb *= material.colour[2];
          }
        }
        seesLights = true;
        ox = px + dx * OFFSET;
        oy = py + dy * OFFSET;
        oz = pz + dz * OFFSET;
        if (++bounce > SURE_BOUNCES) {
          const survive = survival(tr, tg, tb);
          if (random.next() >= survive) return hasIndirect;
          tr /= survive;
          tg /= survive;
          tb /= survive;
        }
        continue;
      }

      if (facing > 0) {
        nx = -nx;
        ny = -ny;
        nz = -nz;
      }
      const gx = nx,
        gy = ny,
        gz = nz;
      if (material.ripples !== null) {
        const bent = ripple(material.ripples, px, pz, tracer.t, nx, ny, nz);
        nx = bent[0]!;
        ny = bent[1]!;
        nz = bent[2]!;
      }
      let cr = material.colour[0],
        cg = material.colour[1],
        cb = material.colour[2];
      if (material.texture !== null) {
        sampleTexture(material.texture, tracer.u, tracer.v, this.#colour);
        cr *= this.#colour[0]!;
        cg *= this.#colour[1]!;
        cb *= this.#colour[2]!;
      }
      if (this.met === 0) this.#meet(cr, cg, cb, nx, ny, nz, way + tracer.t);
      const along = nx * dx + ny * dy + nz * dz;
      if (this.#isUnlit) return this.#showUnlit(tr, tg, tb, along);
      const mirrors =
        material.kind === "metal" ||
        (material.coat > 1 && random.next() < fresnel(Math.min(1, Math.abs(along)), material.coat));
      ox = px + gx * OFFSET;
      oy = py + gy * OFFSET;
      oz = pz + gz * OFFSET;
      if (mirrors) {
        dx -= 2 * along * nx;
        dy -= 2 * along * ny;
        dz -= 2 * along * nz;
        if (material.roughness > 0) {
          onSphere(random.next(), random.next());
          const r = material.roughness;
          dx += r * sphere[0]!;
          dy += r * sphere[1]!;
          dz += r * sphere[2]!;
        }
        // A reflection that would go into the surface is turned up along it.
        const into = dx * gx + dy * gy + dz * gz;
        if (into < 0) {
          dx -= 2 * into * gx;
          dy -= 2 * into * gy;
          dz -= 2 * into * gz;
        }
        const scale = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz);
        dx *= scale;
        dy *= scale;
        dz *= scale;
        if (material.kind === "metal") {
          tr *= cr;
          tg *= cg;
          tb *= cb;
        }
        seesLights = true;
      } else {
        tr *= cr;
        tg *= cg;
        tb *= cb;
        this.#lights.addAimed(ox, oy, oz, nx, ny, nz, tr, tg, tb);
        if (!scattered && !this.hasPoint) {
          this.hasPoint = true;
          this.point[0] = ox;
          this.point[1] = oy;
          this.point[2] = oz;
          this.pointNormal[0] = nx;
          this.pointNormal[1] = ny;
          this.pointNormal[2] = nz;
          // What is not covered goes on as a path.
          if (this.#lighting !== null && this.#lighting.find(ox, oy, oz, nx, ny, nz)) {
            isLit = true;
            const { light } = this.#lighting;
            this.#cached[0] = tr * light[0]!;
            this.#cached[1] = tg * light[1]!;
            this.#cached[2] = tb * light[2]!;
          }
        }
        onSphere(random.next(), random.next());
        // Cosine-weighted: a point of the unit sphere set on the normal's tip.
        dx = nx + sphere[0]!;
        dy = ny + sphere[1]!;
        dz = nz + sphere[2]!;
        const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
        if (length < 1e-6) {
          dx = nx;
          dy = ny;
          dz = nz;
        } else {
          dx /= length;
          dy /= length;
          dz /= length;
        }
        seesLights = false;
        scattered = true;
      }
      if (++bounce > SURE_BOUNCES) {
        const survive = survival(tr, tg, tb);
        if (random.next() >= survive) return hasIndirect;
        tr /= survive;
        tg /= survive;
        tb /= survive;
      }
    }
    return hasIndirect;
  }
}

/** How likely a path goes on: as its throughput, and never for certain. */
const survival = (r: number, g: number, b: number): number => Math.min(0.95, Math.max(r, g, b));
