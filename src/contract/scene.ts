/**
 * The scene file: JSON, lengths in metres, angles in degrees, y up, colours linear RGB, time in
 * frames (fractions allowed). docs/scene-format.md explains it with an example.
 */
import type { Animated, Key, Lens } from "@/core/plan/lens";
import { BOUNDS, FRAME, nameOfLength, textOfLength } from "./bounds";
import { checker, objectOf } from "./validate";

export type Vec3 = readonly [number, number, number];

/** Waves in the shading normal only: sums of sines, higher and longer is rougher water. */
export interface Ripples {
  /** Of the wave against its length: it bends the normal, not the surface. */
  readonly height: number;
  /** Metres from crest to crest. */
  readonly length: number;
  /** Metres a second. */
  readonly speed: number;
}

export type SceneMaterial =
  | {
      readonly kind: "diffuse";
      readonly colour: Vec3;
      /** File beside the scene; its colours are multiplied with `colour`. */
      readonly texture?: string;
      /** Index of refraction of a clear coat over it. */ readonly coat?: number;
      readonly ripples?: Ripples;
    }
  | {
      readonly kind: "metal";
      readonly colour: Vec3;
      readonly texture?: string;
      /** From 0, a mirror, to 1. */
      readonly roughness?: number;
      readonly ripples?: Ripples;
    }
  | {
      readonly kind: "glass";
      readonly colour?: Vec3;
      /** Index of refraction; 1.5 where nothing is said. */
      readonly ior?: number;
      /** A pane without thickness: light goes straight on. */ readonly thin?: boolean;
    }
  | {
      readonly kind: "emitter";
      readonly colour: Vec3;
      /** Times the colour: radiance. */
      readonly strength: Animated<number>;
      /** Adds light to what is behind it and stops nothing: beams, haloes. */ readonly glow?: boolean;
      /** Glow falls with y^fade from the body's top (y = 1) to its base. */ readonly fade?: number;
    };

export type ShapeName = "sphere" | "box" | "plane" | "cylinder" | "cone" | "torus";

export interface SceneBody {
  /** For messages; bodies need none. */
  readonly name?: string;
  /** Left out for a group that only moves its children. */
  readonly shape?: ShapeName;
  /** A key of `materials`; a shape must have one. */
  readonly material?: string;
  /** Metres, inside the parent. */
  readonly position?: Animated<Vec3>;
  /** Degrees about x, then y, then z. */
  readonly rotation?: Animated<Vec3>;
  /** Factors along the body's own axes; none may be 0. */
  readonly scale?: Animated<Vec3>;
  /** Cone: radius at the top, as a share of the base. */
  readonly top?: number;
  /** Torus: radius of the tube, as a share of the ring. */
  readonly tube?: number;
  /** How often a texture repeats along u and v. */
  readonly repeat?: readonly [number, number];
  /** Move along with this one. */
  readonly children?: readonly SceneBody[];
}

export interface SceneCamera {
  /** What the plan calls it by: unique in the scene. */
  readonly name: string;
  /** Metres. */
  readonly position: Animated<Vec3>;
  /** The point that it looks at, metres. */
  readonly target: Animated<Vec3>;
  /** Millimetres on a sensor of `sensorWidth`. */
  readonly focalLength: Animated<number>;
  /** Millimetres; 36 when left out. */
  readonly sensorWidth?: number;
  /** Depth of field; left out, everything is sharp. */
  readonly lens?: Lens;
}

export interface Sky {
  /** Radiance straight up; between these colours it is mixed by height. */
  readonly zenith: Vec3;
  readonly horizon: Vec3;
  /** Radiance from below the horizon. */
  readonly ground: Vec3;
  readonly sun?: {
    /** From which the light comes; its length does not matter. */
    readonly direction: Vec3;
    readonly colour: Vec3;
    /** Times the colour, over the whole of its disc. */
    readonly strength: number;
    /** Diameter in degrees. */ readonly angle: number;
  };
}

/** The scene asks for gathered light: gathered at every n-th frame, before the frames are rendered. */
export interface SceneLighting {
  /** Frames from one to the next that is gathered. */
  readonly every: number;
  /** Points across the picture's width, and rays from each; left out: 64 and 128. */
  readonly points?: number;
  /** From each point; more of them make less noise and take longer. */
  readonly rays?: number;
  /** Light is gathered and no picture written: for trying it alone. A run refuses it. */
  readonly only?: boolean;
}

export interface SceneMarker {
  readonly name: string;
  readonly first: number;
  readonly last: number;
}

export interface Scene {
  readonly format: "plain-tally-scene/1";
  /** Frames a second that the scene was made for. */
  readonly frameRate: number;
  /** Frames that its animation is made for, both inclusive; left out where the scene does not say. */
  readonly timeLine?: { readonly first: number; readonly last: number };
  /** Stretches with a name; both ends belong to them. */
  readonly markers?: readonly SceneMarker[];
  /** Share of a frame that the shutter is open, from the frame's own time on. */
  readonly shutter: number;
  /** Factor on the light of the scene. */
  readonly exposure: number;
  readonly sky: Sky;
  readonly lighting?: SceneLighting;
  readonly cameras: readonly SceneCamera[];
  /** By name. */
  readonly materials: Readonly<Record<string, SceneMaterial>>;
  readonly bodies: readonly SceneBody[];
}

const within = (most: number) => ({ type: "number", minimum: -most, maximum: most }) as const;
const upTo = (maximum: number) => ({ type: "number", minimum: 0, maximum }) as const;
/** Lengths, and degrees of a turn. */
const vec3 = { type: "array", items: within(BOUNDS.sceneLength), minItems: 3, maxItems: 3 } as const;
/** Of light, in linear RGB. */
const colour = { type: "array", items: upTo(BOUNDS.sceneLight), minItems: 3, maxItems: 3 } as const;
/** Of a surface: none sends back more than it gets. */
const reflectance = { ...colour, items: upTo(1) } as const;
const refraction = { type: "number", minimum: 1, maximum: BOUNDS.sceneRefraction } as const;
const share = { type: "number", minimum: 0, maximum: 1 } as const;
const positive = { type: "number", minimum: BOUNDS.sceneLeast, maximum: BOUNDS.sceneLength } as const;
const animated = (value: object): object => ({
  if: { type: "object" },
  then: {
    type: "object",
    required: ["keys"],
    additionalProperties: false,
    properties: {
      keys: {
        type: "array",
        minItems: 1,
        maxItems: BOUNDS.sceneItems,
        items: objectOf<Key<unknown>>(
          { frame: within(BOUNDS.frame), value, ease: { enum: ["linear", "smooth", "hold"] } },
          ["frame", "value"],
        ),
      },
    },
  },
  else: value,
});
const ripples = objectOf<Ripples>({
  height: upTo(BOUNDS.sceneLength),
  length: positive,
  speed: within(BOUNDS.sceneLength),
});
const texture = { ...textOfLength(BOUNDS.path), minLength: 1 } as const;

/** Also part of a plan, which may give a camera another lens. */
export const lensSchema = objectOf<Lens>({
  fNumber: animated(positive),
  focusDistance: animated(positive),
});

type MaterialOf<K> = Extract<SceneMaterial, { readonly kind: K }>;

const materialKinds = {
  diffuse: objectOf<MaterialOf<"diffuse">>(
    { kind: {}, colour: reflectance, texture, coat: refraction, ripples },
    ["kind", "colour"],
  ),
  metal: objectOf<MaterialOf<"metal">>(
    { kind: {}, colour: reflectance, texture, roughness: share, ripples },
    ["kind", "colour"],
  ),
  glass: objectOf<MaterialOf<"glass">>(
    { kind: {}, colour: reflectance, ior: refraction, thin: { type: "boolean" } },
    ["kind"],
  ),
  emitter: objectOf<MaterialOf<"emitter">>(
    {
      kind: {},
      colour,
      strength: animated(upTo(BOUNDS.sceneLight)),
      glow: { type: "boolean" },
      fade: upTo(BOUNDS.sceneLength),
    },
    ["kind", "colour", "strength"],
  ),
} satisfies Record<SceneMaterial["kind"], object>;

const material = {
  type: "object",
  required: ["kind"],
  properties: { kind: { enum: Object.keys(materialKinds) } },
  allOf: Object.entries(materialKinds).map(([kind, then]) => ({
    if: { type: "object", properties: { kind: { const: kind } } },
    then,
  })),
};

const bodyRef = { $ref: "#/definitions/body" } as const;

const body = objectOf<SceneBody>(
  {
    name: textOfLength(BOUNDS.word),
    shape: { enum: ["sphere", "box", "plane", "cylinder", "cone", "torus"] satisfies ShapeName[] },
    material: textOfLength(BOUNDS.word),
    position: animated(vec3),
    rotation: animated(vec3),
    scale: animated(vec3),
    top: share,
    tube: { type: "number", minimum: BOUNDS.sceneLeast, maximum: 0.9 },
    repeat: { type: "array", items: positive, minItems: 2, maxItems: 2 },
    children: { type: "array", items: bodyRef, maxItems: BOUNDS.sceneItems },
  },
  [],
);

const sky = objectOf<Sky>(
  {
    zenith: colour,
    horizon: colour,
    ground: colour,
    sun: objectOf<NonNullable<Sky["sun"]>>({
      direction: vec3,
      colour,
      strength: upTo(BOUNDS.sceneLight),
      angle: { type: "number", minimum: BOUNDS.sceneLeast, maximum: 90 },
    }),
  },
  ["zenith", "horizon", "ground"],
);

const lighting = objectOf<SceneLighting>(
  {
    every: { type: "integer", minimum: 1, maximum: 10_000 },
    points: { type: "integer", minimum: 4, maximum: 1_000 },
    rays: { type: "integer", minimum: 1, maximum: 100_000 },
    only: { type: "boolean" },
  },
  ["every"],
);

const camera = objectOf<SceneCamera>(
  {
    name: { ...nameOfLength(BOUNDS.cameraName), pattern: "^[A-Za-z0-9_-]+$" },
    position: animated(vec3),
    target: animated(vec3),
    focalLength: animated(positive),
    sensorWidth: positive,
    lens: lensSchema,
  },
  ["name", "position", "target", "focalLength"],
);

const sceneSchema = {
  $id: "plain-tally-scene/1",
  definitions: { body },
  ...objectOf<Scene>(
    {
      format: { const: "plain-tally-scene/1" },
      frameRate: positive,
      timeLine: objectOf({ first: FRAME, last: FRAME }),
      markers: {
        type: "array",
        maxItems: BOUNDS.markers,
        items: objectOf<SceneMarker>({ name: nameOfLength(BOUNDS.name), first: FRAME, last: FRAME }),
      },
      shutter: share,
      exposure: positive,
      sky,
      lighting,
      cameras: { type: "array", minItems: 1, maxItems: BOUNDS.cameras, items: camera },
      materials: { type: "object", required: [], additionalProperties: material },
      bodies: { type: "array", items: bodyRef, maxItems: BOUNDS.sceneItems },
    },
    ["format", "frameRate", "shutter", "exposure", "sky", "cameras", "materials", "bodies"],
  ),
} as const;

const checkShape = checker<Scene>(sceneSchema);

/** Names of the texture files that a scene uses, sorted, each once. */
export const textureFiles = (scene: Scene): string[] =>
  [
    ...new Set(
      Object.values(scene.materials).flatMap((m) =>
        "texture" in m && m.texture !== undefined ? [m.texture] : [],
      ),
    ),
  ].sort();

/** True for keys; an array also has a `keys`, its method, so arrays are ruled out first. */
export const isKeyed = <V>(value: Animated<V>): value is { readonly keys: readonly Key<V>[] } =>
  typeof value === "object" && value !== null && !Array.isArray(value) && "keys" in value;

/**
 * Checks the shape, and what a schema cannot say: materials that exist, keys in order, bodies with a shape
 * and a material together.
 */
export function checkScene(value: unknown): ReturnType<typeof checkShape> {
  const shaped = checkShape(value);
  if (!shaped.ok) return shaped;
  const faults: { path: string; message: string }[] = [];
  const scene = shaped.value;
  const checkKeys = (path: string, value: Animated<Vec3 | number> | undefined): void => {
    const frames = value !== undefined && isKeyed(value) ? value.keys.map((key) => key.frame) : [];
    if (frames.some((frame, i) => i > 0 && frame <= frames[i - 1]!))
      faults.push({ path, message: "the keys must ascend in frames" });
  };
  const walk = (bodies: readonly SceneBody[], path: string): void =>
    bodies.forEach((body, i) => {
      const at = `${path}/${i}`;
      if ((body.shape === undefined) !== (body.material === undefined))
        faults.push({ path: at, message: "a shape and a material go together" });
      if (body.material !== undefined && !Object.hasOwn(scene.materials, body.material))
        faults.push({ path: `${at}/material`, message: `there is no material "${body.material}"` });
      for (const field of ["position", "rotation", "scale"] as const)
        checkKeys(`${at}/${field}`, body[field]);
      walk(body.children ?? [], `${at}/children`);
    });
  walk(scene.bodies, "/bodies");
  scene.cameras.forEach((camera, i) => {
    for (const field of ["position", "target", "focalLength"] as const)
      checkKeys(`/cameras/${i}/${field}`, camera[field]);
    for (const field of ["fNumber", "focusDistance"] as const)
      checkKeys(`/cameras/${i}/lens/${field}`, camera.lens?.[field]);
    if (scene.cameras.findIndex((c) => c.name === camera.name) !== i)
      faults.push({ path: `/cameras/${i}/name`, message: `the camera "${camera.name}" is there twice` });
  });
  return faults.length > 0 ? { ok: false, faults } : shaped;
}
