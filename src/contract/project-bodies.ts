/** What pages send to make and change projects and shots. Shape and size are judged here, meaning in the core. */
import type { ShotSound } from "@/core/sound/shot-sound";
import type { Marker } from "@/core/plan/notes";
import type { PresetSettings } from "@/core/plan/preset";
import type { ShotWish } from "@/core/plan/shot-wish";
import { BOUNDS, FRAME, textOfLength } from "./bounds";
import { presetSettings } from "./plan";
import { checker, objectOf } from "./validate";

export interface NewProjectBody {
  readonly title: string;
  /** In addresses. */
  readonly slug: string;
  /** Frames a second as a person writes them: 24, 23.976, 24000/1001. */
  readonly rate: string;
  /** Name of a storage root. */
  readonly root: string;
  /** Relative to it. */
  readonly folder: string;
}
const title = textOfLength(BOUNDS.title);
const slug = textOfLength(BOUNDS.projectName);
const code = textOfLength(BOUNDS.shotCode);
const rate = textOfLength(40);
export const checkNewProject = checker<NewProjectBody>(
  objectOf<NewProjectBody>({
    title,
    slug,
    rate,
    root: textOfLength(BOUNDS.declaredName),
    folder: textOfLength(BOUNDS.projectFolder),
  }),
);

export interface ChangeProjectBody {
  readonly title?: string;
  readonly slug?: string;
  readonly rate?: string;
  readonly isArchived?: boolean;
  /** All of them: what is left out is as usual again. */
  readonly defaults?: PresetSettings;
}
export const checkChangeProject = checker<ChangeProjectBody>({
  ...objectOf<ChangeProjectBody>(
    { title, slug, rate, isArchived: { type: "boolean" }, defaults: { ...presetSettings, minProperties: 0 } },
    [],
  ),
  minProperties: 1,
});

const markers = {
  type: "array",
  maxItems: BOUNDS.markers,
  items: objectOf<Marker>({ name: textOfLength(BOUNDS.name), first: FRAME, end: FRAME }),
} as const;
const orNull = (schema: object) => ({ anyOf: [{ type: "null" }, schema] });

export interface BringInShotsBody {
  readonly wishes: readonly ShotWish[];
  /** Only says what would come of it. */
  readonly isDry: boolean;
}
export const checkBringInShots = checker<BringInShotsBody>(
  objectOf<BringInShotsBody>({
    wishes: {
      type: "array",
      minItems: 1,
      maxItems: BOUNDS.shotsAtOnce,
      items: objectOf<ShotWish>({
        code,
        title: orNull(title),
        timeLine: orNull(objectOf({ first: FRAME, last: FRAME })),
        scene: orNull(textOfLength(BOUNDS.path)),
        renderer: textOfLength(BOUNDS.name),
        cameras: orNull({
          type: "array",
          items: textOfLength(BOUNDS.cameraName),
          minItems: 1,
          maxItems: BOUNDS.cameras,
          uniqueItems: true,
        }),
        markers: orNull(markers),
      }),
    },
    isDry: { type: "boolean" },
  }),
);

export interface BringInListBody {
  /** The table's whole content. */
  readonly text: string;
  readonly isDry: boolean;
}
export const checkBringInList = checker<BringInListBody>(
  objectOf<BringInListBody>({ text: textOfLength(BOUNDS.shotListText), isDry: { type: "boolean" } }),
);

export interface BringInEditBody {
  /** Of the file. */
  readonly name: string;
  readonly text: string;
  /** Frames before and behind what is used. */
  readonly handles: number;
  readonly isDry: boolean;
}
export const checkBringInEdit = checker<BringInEditBody>(
  objectOf<BringInEditBody>({
    name: { ...textOfLength(BOUNDS.word), minLength: 1 },
    text: textOfLength(BOUNDS.listText),
    handles: { type: "integer", minimum: 0, maximum: BOUNDS.handles },
    isDry: { type: "boolean" },
  }),
);

export interface ChangeShotBody {
  readonly code?: string;
  readonly title?: string;
  readonly firstFrame?: number;
  readonly lastFrame?: number;
  readonly markers?: readonly Marker[];
  /** Null takes it away; the file stays. */
  readonly sound?: ShotSound | null;
  readonly isArchived?: boolean;
}
export const checkChangeShot = checker<ChangeShotBody>({
  ...objectOf<ChangeShotBody>(
    {
      code,
      title,
      firstFrame: FRAME,
      lastFrame: FRAME,
      markers,
      sound: orNull(objectOf<ShotSound>({ path: textOfLength(BOUNDS.path), offset: { type: "number" } })),
      isArchived: { type: "boolean" },
    },
    [],
  ),
  minProperties: 1,
});

export const checkCopyShot = checker<{ readonly code: string }>(
  objectOf<{ readonly code: string }>({ code }),
);
