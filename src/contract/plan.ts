/**
 * The plan as it crosses a boundary: types only. What the values mean is judged by core/plan, which
 * tells every fault with its field.
 */
import { ALPHAS, CHANNEL_CHOICES, type ForeignFormat } from "@/core/image/file-format";
import { PASSES } from "@/core/plan/passes";
import type { CameraMove } from "@/core/plan/camera-move";
import { FILTERS, SAMPLINGS, SHADINGS } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import type { PresetSettings } from "@/core/plan/preset";
import type { Watched, WatchedPlace, WatchedSequence } from "@/core/plan/watched";
import { BOUNDS, nameOfLength, textOfLength } from "./bounds";
import { lensSchema } from "./scene";
import { checker, objectOf } from "./validate";

const number = { type: "number" } as const;
const orNull = (schema: object): object => ({ anyOf: [schema, { type: "null" }] });

const rate = objectOf({ numerator: number, denominator: number });
const point = { type: "array", items: number, minItems: 3, maxItems: 3 } as const;
const ease = { enum: ["even", "eased"] } as const;

const file = {
  oneOf: [
    objectOf({ kind: { const: "png" }, depth: { enum: [8, 16] }, level: number }),
    objectOf({
      kind: { const: "tiff" },
      depth: { enum: [8, 16] },
      compression: { enum: ["none", "deflate"] },
    }),
    objectOf({
      kind: { const: "exr" },
      depth: { enum: ["half", "float"] },
      compression: { enum: ["none", "rle", "zip"] },
    }),
    objectOf({ kind: { const: "jpeg" }, quality: number }),
  ],
};

/** What another program's files are, as they were found. */
const foreign = objectOf<ForeignFormat>({
  kind: { const: "foreign" },
  format: textOfLength(BOUNDS.word),
  depth: orNull(number),
  isLinear: { type: "boolean" },
});

/** The places are the server's to find: a plan that a page saves may only have those that it has. */
const watched = objectOf<Watched>({
  sequences: {
    type: "array",
    maxItems: BOUNDS.watchedSequences,
    items: objectOf<WatchedSequence>({
      camera: textOfLength(BOUNDS.cameraName),
      pass: { enum: PASSES },
      place: objectOf<WatchedPlace>({
        root: textOfLength(BOUNDS.declaredName),
        folder: textOfLength(BOUNDS.foundPath),
        prefix: textOfLength(BOUNDS.fileName),
        suffix: textOfLength(BOUNDS.fileName),
        digits: { type: "integer", minimum: 1, maximum: BOUNDS.fileName },
      }),
      size: orNull(objectOf({ width: number, height: number })),
    }),
  },
  followsFiles: { type: "boolean" },
});

const move = {
  oneOf: [
    objectOf({
      kind: { const: "turn" },
      subject: point,
      distance: number,
      height: number,
      direction: { enum: ["clockwise", "anticlockwise"] },
      startAngle: number,
      degrees: number,
      isLoop: { type: "boolean" },
      ease,
    }),
    objectOf(
      {
        kind: { const: "path" },
        points: { type: "array", items: point, maxItems: BOUNDS.pathPoints },
        target: point,
        targetPath: { type: "array", items: point, maxItems: BOUNDS.pathPoints },
        ease,
      },
      ["kind", "points", "target", "ease"],
    ),
  ],
};

const checkpoints = {
  oneOf: [
    objectOf({ kind: { const: "every" }, minutes: number }),
    objectOf({ kind: { enum: ["on-stop", "never"] } }),
  ],
};

/** Settings that say nothing of the shot: what a preset may hold. */
const settings: { readonly [K in keyof PresetSettings]-?: object } = {
  width: number,
  height: number,
  scale: number,
  pixelAspect: number,
  shading: { enum: SHADINGS },
  filter: objectOf({ kind: { enum: FILTERS }, radius: number }),
  shutter: { anyOf: [number, { const: "scene" }] },
  lens: { anyOf: [lensSchema, { enum: ["scene", "off"] }] },
  dither: { type: "boolean" },
  seed: number,
  grain: { enum: ["by-frame", "same"] },
  samples: number,
  minSamples: number,
  noiseTarget: orNull(number),
  timeLimit: orNull(number),
  sampling: { enum: SAMPLINGS },
  checkpoints,
  keepSamples: { type: "boolean" },
  passes: { type: "array", items: { enum: PASSES }, uniqueItems: true },
  file,
  alpha: { enum: ALPHAS },
  channels: { enum: CHANNEL_CHOICES },
  namePattern: textOfLength(BOUNDS.namePattern),
  digits: number,
};

/** By name; what they mean, the renderer's declaration says. */
const options = {
  type: "object",
  required: [],
  maxProperties: BOUNDS.rendererOptions,
  propertyNames: { maxLength: BOUNDS.declaredName },
  additionalProperties: { type: ["string", "number", "boolean"], maxLength: BOUNDS.configurationLine },
};

/** Shape and bounds alone; what the values mean together is read by core/plan. */
export const planSchema = objectOf<Plan>({
  scene: textOfLength(BOUNDS.path),
  renderer: textOfLength(BOUNDS.name),
  cameras: {
    type: "array",
    items: textOfLength(BOUNDS.cameraName),
    maxItems: BOUNDS.cameras,
    uniqueItems: true,
  },
  frames: textOfLength(BOUNDS.phrase),
  offset: number,
  timeLine: objectOf({ first: { type: "integer" }, last: { type: "integer" }, rate }),
  rate,
  markersOff: { type: "array", items: textOfLength(BOUNDS.name), maxItems: BOUNDS.markers },
  ...settings,
  file: { anyOf: [file, foreign] },
  options,
  move: orNull(move),
  watched: orNull(watched),
});

/** A plan by its shape alone. */
export const checkPlanShape = checker<Plan>(planSchema);

/** A moment of a camera move, as the address of a small picture carries it. */
export const checkThumbnailMove = checker<{
  readonly move: CameraMove;
  /** Which of the move's frames, from 0. */
  readonly index: number;
  /** How many frames the move has. */
  readonly frames: number;
}>(
  objectOf({
    move,
    index: { type: "number", minimum: 0, maximum: BOUNDS.frame },
    frames: { type: "number", minimum: 1, maximum: BOUNDS.frame },
  }),
);

/** Stands in every preset file that is handed over. */
export const PRESET_FORMAT = "plain-tally-preset/1";

/** A preset as a file. */
export interface PresetFile {
  readonly format: typeof PRESET_FORMAT;
  /** What the preset is called where it is taken in, if the name is free there. */
  readonly name: string;
  readonly settings: PresetSettings;
}

/** A preset's name: anything that a person can read, at most a line of it. */
export const presetName = nameOfLength(BOUNDS.presetName);
/** Settings of a preset: any of the plan's that presets keep, at least one. */
export const presetSettings = { ...objectOf<PresetSettings>(settings, []), minProperties: 1 };

/** Settings that plans of a project's new shots begin with; none where all is as usual. */
export const checkPresetSettings = checker<PresetSettings>({ ...presetSettings, minProperties: 0 });

/** A preset file as somebody handed it over. */
export const checkPresetFile = checker<PresetFile>(
  objectOf({ format: { const: PRESET_FORMAT }, name: presetName, settings: presetSettings }),
);
