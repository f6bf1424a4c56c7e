/**
 * A scene made ready for one frame: groups flattened, transforms taken at shutter open and close,
 * bodies in typed arrays, bounds in a tree. Motion inside the shutter is linear between both ends.
 *
 * Per body: 12 numbers of the forward transform at open and at close, 12 of the inverse (for still
 * bodies fixed, for moving ones recomputed for each path's own time by `Tracer.setTime`).
 */
import type { Lens } from "@/core/plan/lens";
import type { Scene, SceneBody, SceneMaterial, Vec3 } from "@/contract/scene";
import { valueAt } from "./animate";
import { compose, IDENTITY, type Affine, invertInto, placement } from "./matrix";
import { SHAPE } from "./shapes";
import type { Texture } from "./texture";
import { buildTree, type Bounds, type BoundsTree } from "./bounds-tree";

export type Material =
  | {
      readonly kind: "diffuse" | "metal";
      readonly colour: Vec3;
      readonly texture: Texture | null;
      /** Index of refraction of a coat; 1 is none. */
      readonly coat: number;
      /** From 0, a mirror. */
      readonly roughness: number;
      readonly ripples: { readonly height: number; readonly length: number; readonly phase: number } | null;
    }
  | { readonly kind: "glass"; readonly colour: Vec3; readonly ior: number; readonly thin: boolean }
  | { readonly kind: "emitter"; readonly radiance: Vec3; readonly glow: boolean; readonly fade: number };

/** A sphere that gives light and is aimed at. */
export interface SphereLight {
  /** Its index. */
  readonly body: number;
  readonly centre: Vec3;
  /** Metres. */
  readonly radius: number;
  readonly radiance: Vec3;
}

export interface World {
  /** Bodies. */
  readonly count: number;
  /** By body, an index of the shapes. */
  readonly shape: Uint8Array;
  /** Cone: top radius. Torus: tube. */
  readonly form: Float64Array;
  /** By body. */
  readonly material: readonly Material[];
  readonly repeat: Float64Array;
  /** Forward transforms when the shutter opens. */
  readonly open: Float64Array;
  /** Forward transforms when it closes. */
  readonly close: Float64Array;
  readonly inverse: Float64Array;
  /** Indices of bodies whose transform changes while the shutter is open. */
  readonly moving: readonly number[];
  /** Endless bodies, tested for every ray; the others hang in the tree. */
  readonly endless: readonly number[];
  readonly tree: BoundsTree;
  /** Spheres that are aimed at. */
  readonly lights: readonly SphereLight[];
  /** By body: 1 where it is one of the lights. */
  readonly isAimed: Uint8Array;
  readonly sky: Scene["sky"];
  /** Factor on scene light. */
  readonly exposure: number;
}

export interface Camera {
  readonly position: Vec3;
  /** Unit vectors, as up and forward. */
  readonly right: Vec3;
  readonly up: Vec3;
  readonly forward: Vec3;
  /** Half the sensor's width over the focal length. */
  readonly halfWidth: number;
  /** Metres; 0 where everything is sharp. */
  readonly lensRadius: number;
  /** Metres. */
  readonly focusDistance: number;
}

/** What a plan may put in the place of the scene's own settings. */
export interface CameraOverride {
  /** null: everything is sharp. Left out: as the scene says. */
  readonly lens?: Lens | null;
  /** Where the camera stands and looks, of a move that the plan makes. */
  readonly view?: { readonly position: Vec3; readonly target: Vec3 };
}

/** A body without its groups. */
interface FlatBody {
  readonly body: SceneBody;
  readonly open: Affine;
  readonly close: Affine;
}

const ZERO: Vec3 = [0, 0, 0];
const ONE: Vec3 = [1, 1, 1];

/** Its own transform inside its parent. */
const placeAt = (body: SceneBody, frame: number): Affine =>
  placement(
    valueAt(body.position ?? ZERO, frame),
    valueAt(body.rotation ?? ZERO, frame),
    valueAt(body.scale ?? ONE, frame),
  );

/** Down the tree, with the transforms of all parents. */
function flatten(
  bodies: readonly SceneBody[],
  open: Affine,
  close: Affine,
  at: readonly [number, number],
): FlatBody[] {
  return bodies.flatMap((body) => {
    const here = compose(open, placeAt(body, at[0]));
    const there = compose(close, placeAt(body, at[1]));
    const own = body.shape === undefined ? [] : [{ body, open: here, close: there }];
    return [...own, ...flatten(body.children ?? [], here, there, at)];
  });
}

/** What a body covers, seen from above. */
export interface Footprint {
  /** Null: it has none. */
  readonly name: string | null;
  /** Metres along x, from and to. */
  readonly x: readonly [number, number];
  /** Metres along z, from and to. */
  readonly z: readonly [number, number];
}

/** Of all bodies that end somewhere, the largest first. @param frame scene time */
export function footprintsOf(scene: Scene, frame: number): Footprint[] {
  const area = ({ x, z }: Footprint): number => (x[1] - x[0]) * (z[1] - z[0]);
  return flatten(scene.bodies, IDENTITY, IDENTITY, [frame, frame])
    .filter(({ body }) => body.shape !== "plane")
    .map(({ body, open }): Footprint => {
      const { min, max } = boundsUnder(SHAPE[body.shape!], formOf(body), Float64Array.from(open), 0);
      return { name: body.name ?? null, x: [min[0], max[0]], z: [min[2], max[2]] };
    })
    .sort((a, b) => area(b) - area(a));
}

/** The one number that says what a shape looks like besides its kind. */
const formOf = (body: SceneBody): number =>
  body.shape === "cylinder" ? 1 : body.shape === "torus" ? (body.tube ?? 0.25) : (body.top ?? 0);

/** As it is at this frame. */
function materialAt(
  material: SceneMaterial,
  textures: ReadonlyMap<string, Texture>,
  scene: Scene,
  frame: number,
): Material {
  switch (material.kind) {
    case "diffuse":
    case "metal": {
      const texture = material.texture === undefined ? null : textures.get(material.texture);
      if (texture === undefined) throw new Error(`The texture ${material.texture} was not loaded.`);
      const ripples =
        material.ripples === undefined
          ? null
          : {
              height: material.ripples.height,
              length: material.ripples.length,
              phase: (material.ripples.speed * frame) / scene.frameRate,
            };
      return {
        kind: material.kind,
        colour: material.colour,
        texture,
        coat: material.kind === "diffuse" ? (material.coat ?? 1) : 1,
        roughness: material.kind === "metal" ? (material.roughness ?? 0) : 0,
        ripples,
      };
    }
    case "glass":
      return {
        kind: "glass",
        colour: material.colour ?? ONE,
        ior: material.ior ?? 1.5,
        thin: material.thin ?? false,
      };
    case "emitter": {
      const strength = valueAt(material.strength, frame);
      return {
        kind: "emitter",
        radiance: scaled(material.colour, strength),
        glow: material.glow ?? false,
        fade: material.fade ?? 0,
      };
    }
  }
}

/** Bounds of a shape under a transform: of its box's eight corners. */
function boundsUnder(shape: number, form: number, m: Float64Array, at: number): Bounds {
  const side = shape === SHAPE.torus ? 1 + form : 1;
  const low = shape === SHAPE.cylinder || shape === SHAPE.cone ? 0 : shape === SHAPE.torus ? -form : -1;
  const high = shape === SHAPE.torus ? form : 1;
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let corner = 0; corner < 8; corner++) {
    const x = corner & 1 ? side : -side;
    const y = corner & 2 ? high : low;
    const z = corner & 4 ? side : -side;
    for (let row = 0; row < 3; row++) {
      const value =
        m[at + row * 4]! * x + m[at + row * 4 + 1]! * y + m[at + row * 4 + 2]! * z + m[at + row * 4 + 3]!;
      min[row] = Math.min(min[row]!, value);
      max[row] = Math.max(max[row]!, value);
    }
  }
  return { min, max };
}

/** The box around both. */
const joined = (a: Bounds, b: Bounds): Bounds => ({
  min: [Math.min(a.min[0], b.min[0]), Math.min(a.min[1], b.min[1]), Math.min(a.min[2], b.min[2])],
  max: [Math.max(a.max[0], b.max[0]), Math.max(a.max[1], b.max[1]), Math.max(a.max[2], b.max[2])],
});

/** Makes the world of one frame.
 * @param textures every texture that the scene names, already decoded
 * @param frame    scene time in frames; may be a fraction
 * @param shutter  share of a frame that the shutter is open; the scene's own when left out
 */
export function makeWorld(
  scene: Scene,
  textures: ReadonlyMap<string, Texture>,
  frame: number,
  shutter: number = scene.shutter,
): World {
  const flat = flatten(scene.bodies, IDENTITY, IDENTITY, [frame, frame + shutter]);
  const count = flat.length;
  const shape = Uint8Array.from(flat, (b) => SHAPE[b.body.shape!]);
  const form = Float64Array.from(flat, (b) => formOf(b.body));
  const cache = new Map<string, Material>();
  const material = flat.map(({ body }) => {
    const name = body.material!;
    const made = cache.get(name) ?? materialAt(scene.materials[name]!, textures, scene, frame);
    cache.set(name, made);
    return made;
  });
  const open = new Float64Array(count * 12);
  const close = new Float64Array(count * 12);
  const inverse = new Float64Array(count * 12);
  const moving: number[] = [];
  const endless: number[] = [];
  const bounded: { index: number; bounds: Bounds }[] = [];
  const lights: SphereLight[] = [];
  const isAimed = new Uint8Array(count);
  flat.forEach((b, i) => {
    open.set(b.open, i * 12);
    close.set(b.close, i * 12);
    invertInto(inverse, i * 12, open, i * 12);
    const moves = b.open.some((x, k) => x !== b.close[k]);
    if (moves) moving.push(i);
    if (b.body.shape === "plane") endless.push(i);
    else
      bounded.push({
        index: i,
        bounds: joined(
          boundsUnder(shape[i]!, form[i]!, open, i * 12),
          boundsUnder(shape[i]!, form[i]!, close, i * 12),
        ),
      });
    const m = material[i]!;
    if (b.body.shape === "sphere" && m.kind === "emitter" && !m.glow && !moves) {
      const radius = Math.hypot(b.open[0]!, b.open[4]!, b.open[8]!);
      const isRound = [1, 2].every(
        (c) => Math.abs(Math.hypot(b.open[c]!, b.open[4 + c]!, b.open[8 + c]!) - radius) < 1e-9 * radius,
      );
      if (isRound && m.radiance.some((r) => r > 0)) {
        isAimed[i] = 1;
        lights.push({ body: i, centre: [b.open[3]!, b.open[7]!, b.open[11]!], radius, radiance: m.radiance });
      }
    }
  });
  const repeat = Float64Array.from(flat.flatMap((b) => [...(b.body.repeat ?? [1, 1])]));
  return {
    count,
    shape,
    form,
    material,
    repeat,
    open,
    close,
    inverse,
    moving,
    endless,
    tree: buildTree(bounded),
    lights,
    isAimed,
    sky: scene.sky,
    exposure: scene.exposure,
  };
}

const scaled = (a: Vec3, by: number): Vec3 => [a[0] * by, a[1] * by, a[2] * by];
const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** Right-handed. */
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
/** A vector of no length stays as it is: it came from a scene, and NaN would spread over the picture. */
export const unit = (a: Vec3): Vec3 => {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
};

/** The named camera at a time, or null when the scene has none of that name. */
export function makeCamera(
  scene: Scene,
  name: string,
  frame: number,
  override: CameraOverride = {},
): Camera | null {
  const camera = scene.cameras.find((c) => c.name === name);
  if (camera === undefined) return null;
  const position = override.view?.position ?? valueAt(camera.position, frame);
  const forward = unit(sub(override.view?.target ?? valueAt(camera.target, frame), position));
  const right = unit(cross(forward, Math.abs(forward[1]) > 0.9999 ? [0, 0, -1] : [0, 1, 0]));
  const focalLength = valueAt(camera.focalLength, frame);
  const lens = override.lens === undefined ? camera.lens : (override.lens ?? undefined);
  return {
    position,
    forward,
    right,
    up: cross(right, forward),
    halfWidth: (camera.sensorWidth ?? 36) / 2 / focalLength,
    // Millimetres to metres, diameter to radius.
    lensRadius: lens === undefined ? 0 : focalLength / valueAt(lens.fNumber, frame) / 2000,
    focusDistance: lens === undefined ? 1 : valueAt(lens.focusDistance, frame),
  };
}
