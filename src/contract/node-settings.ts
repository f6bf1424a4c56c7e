/**
 * What a person decides of a node, while it works.
 * Decided in the house and kept in the database: a node asks for them with each heartbeat, so that they
 * hold also for one that is started again. Bounds stand here because a node believes what it reads.
 */
import { MACHINE_NAME } from "@/core/naming/name";
import { BOUNDS } from "./bounds";
import type { Hours } from "@/core/timing/hours";
import { checker, objectOf } from "./validate";
import { PAUSES, type Pause } from "./run-manner";

export interface NodeSettings {
  /** `now` saves what is in work and gives it back. */
  readonly pause: Pause;
  /** Frames that it renders at once, each on a core of its own. */
  readonly cores: number;
  /** Politeness of its renderers towards other programs: 0 as usual, 19 last of all. */
  readonly nice: number;
  /** A renderer that uses more memory is killed; null: no limit. */
  readonly memoryMb: number | null;
  /** Hours in which it may work, by its own clock; null: always. */
  readonly hours: Hours | null;
  /** That it is in: a run may be for all of one. */
  readonly groups: readonly string[];
}

/** Of a node of which nobody has decided anything. */
export const USUAL_SETTINGS: NodeSettings = {
  pause: "no",
  cores: 1,
  nice: 0,
  memoryMb: null,
  hours: null,
  groups: [],
};

/** A renderer that has just started uses about so much. */
const LEAST_MEMORY_MB = 100;

const time = { type: "string", pattern: "^([01]\\d|2[0-3]):[0-5]\\d$" };

/** What is left out stays as it is. */
export const checkNodeSettings = checker<Partial<NodeSettings>>({
  ...objectOf<NodeSettings>(
    {
      pause: { enum: PAUSES },
      cores: { type: "integer", minimum: 1, maximum: BOUNDS.cores },
      nice: { type: "integer", minimum: 0, maximum: BOUNDS.nice },
      memoryMb: { type: ["integer", "null"], minimum: LEAST_MEMORY_MB, maximum: BOUNDS.memoryMb },
      hours: { anyOf: [{ type: "null" }, objectOf<Hours>({ from: time, to: time })] },
      groups: {
        type: "array",
        maxItems: BOUNDS.groupsOfNode,
        uniqueItems: true,
        items: { type: "string", pattern: MACHINE_NAME, maxLength: BOUNDS.groupName },
      },
    },
    [],
  ),
  minProperties: 1,
});

/** How the house pauses: not, after the frames in work, or now. */
export const checkPause = checker<{ readonly pause: Pause }>(
  objectOf<{ readonly pause: Pause }>({ pause: { enum: PAUSES } }),
);

export interface SetAsideBody {
  /** In the words of whoever sets it aside. */
  readonly why: string;
}
/** Set a node aside from every run. */
export const checkSetAside = checker<SetAsideBody>(
  objectOf<SetAsideBody>({
    why: { type: "string", minLength: 1, maxLength: BOUNDS.reason, pattern: "\\S" },
  }),
);
