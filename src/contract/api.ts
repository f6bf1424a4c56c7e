/** What travels between the pages and the server: views out, bodies in. Bodies are checked by their schema at the edge. */
import type { Plan } from "@/core/plan/plan";
import { POLICIES, type Policy } from "@/core/plan/what-to-render";
import type { PackedSet, PackedTally } from "@/core/tally/packed";
import type { Rate } from "@/core/timing/rate";
import { checker } from "./validate";

export interface ApiError {
  readonly code: string;
  readonly message: string;
  readonly faults: readonly { readonly field: string; readonly code: string; readonly message: string }[];
}

export interface RunView {
  readonly id: number;
  readonly state: "active" | "stopping" | "stopped" | "done";
  readonly policy: Policy;
  readonly wanted: string;
  readonly nodes: readonly string[] | null;
  readonly total: number;
  readonly done: number;
  readonly failed: number;
  readonly left: number;
  readonly secondsAFrame: number | null;
  /** Milliseconds since 1970, by the server's clock. */
  readonly likelyFinish: number | null;
  readonly createdAt: number;
  readonly endedAt: number | null;
}

export interface Poster {
  readonly sequenceId: number;
  readonly frame: number;
  readonly content: string;
}

export interface ShotLine {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  readonly version: number;
  readonly camera: string;
  readonly pass: string;
  readonly sequenceId: number;
  readonly tally: PackedTally;
  readonly run: RunView | null;
  readonly poster: Poster | null;
}

export interface ShotsView {
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  readonly shots: readonly ShotLine[];
}

export interface SequenceChoice {
  readonly id: number;
  readonly version: number;
  readonly camera: string;
  readonly pass: string;
}

export interface ShotView {
  readonly code: string;
  readonly title: string;
  readonly first: number;
  readonly last: number;
  readonly markers: readonly { readonly name: string; readonly first: number; readonly end: number }[];
  readonly project: { readonly title: string; readonly slug: string; readonly rate: Rate };
  readonly choices: readonly SequenceChoice[];
  readonly sequence: SequenceChoice;
  readonly versionId: number;
  readonly revision: number;
  readonly plan: Plan;
  /** Absolute path of the sequence's folder, for copying. */
  readonly folder: string;
  /** Scene files of the project. */
  readonly scenes: readonly string[];
  readonly hasFiles: boolean;
}

export interface FindingView {
  readonly id: number;
  readonly frame: number;
  readonly source: "check" | "node" | "person";
  readonly code: string;
  readonly text: string;
  readonly state: "open" | "dismissed" | "fixed";
  readonly createdAt: number;
  readonly closedAt: number | null;
}

/** Measures by column; position i of each belongs to the i-th frame of `frames`. */
export interface FileColumns {
  readonly frames: PackedSet;
  readonly seconds: readonly (number | null)[];
  readonly luminance: readonly (number | null)[];
  /** Index into `nodes`, -1 for unknown. */
  readonly node: readonly number[];
  readonly nodes: readonly string[];
  /** First 16 digits of the content's hash: the picture's address carries it. Empty until looked at. */
  readonly content: readonly string[];
  readonly bytes: number;
}

export interface SequenceView {
  readonly id: number;
  readonly tally: PackedTally;
  readonly files: FileColumns;
  readonly findings: readonly FindingView[];
  readonly closedFindings: readonly FindingView[];
  readonly runs: readonly RunView[];
  readonly check: { readonly done: number; readonly total: number } | null;
  /** Files kept aside, and their bytes. */
  readonly aside: { readonly count: number; readonly bytes: number };
}

export interface RenderingView {
  readonly runId: number;
  readonly sequenceId: number;
  readonly frame: number;
  readonly node: string;
  readonly progress: number;
  readonly seconds: number;
}

export interface NodeView {
  readonly name: string;
  readonly state: "at-work" | "idle" | "away" | "stopped";
}

/** Server-sent messages. `changed` names the sequences whose view is out of date; `null` is every one. */
export type LiveMessage =
  | { readonly type: "changed"; readonly sequences: readonly number[] | null }
  | { readonly type: "live"; readonly rendering: readonly RenderingView[]; readonly nodes: readonly NodeView[]; readonly lastFrameSeconds: number | null }
  | { readonly type: "trouble"; readonly message: string };

export interface LogLine {
  readonly id: number;
  readonly at: number;
  readonly node: string;
  readonly frame: number;
  readonly level: "info" | "warning" | "error";
  readonly text: string;
}

const phrase = { type: "string", minLength: 1, maxLength: 100_000 } as const;
const object = (properties: Record<string, object>, required = Object.keys(properties)) => ({ type: "object", required, additionalProperties: false, properties });

/** Types only: what the values mean is judged by core/plan, which tells every fault with its field. */
const planSchema = object({
  scene: { type: "string", maxLength: 500 }, camera: { type: "string", maxLength: 64 }, frames: { type: "string", maxLength: 100_000 },
  width: { type: "number" }, height: { type: "number" }, samples: { type: "number" }, seed: { type: "integer", minimum: 0 },
  namePattern: { type: "string", maxLength: 200 }, digits: { type: "number" }, format: { enum: ["png8"] },
});

export interface SavePlanBody { readonly versionId: number; readonly basedOn: number; readonly plan: Plan }
export const checkSavePlan = checker<SavePlanBody>(object({ versionId: { type: "integer" }, basedOn: { type: "integer" }, plan: planSchema }));

export interface OpenVersionBody { readonly plan: Plan }
export const checkOpenVersion = checker<OpenVersionBody>(object({ plan: planSchema }));

export interface StartRunBody { readonly phrase: string; readonly policy: Policy; readonly nodes: readonly string[] | null }
export const checkStartRun = checker<StartRunBody>(object({ phrase, policy: { enum: POLICIES }, nodes: { anyOf: [{ type: "null" }, { type: "array", items: { type: "string", maxLength: 64 }, minItems: 1 }] } }));

export interface StopRunBody { readonly how: "after-frames" | "now" }
export const checkStopRun = checker<StopRunBody>(object({ how: { enum: ["after-frames", "now"] } }));

export interface FlagBody { readonly phrase: string; readonly reason: string }
export const checkFlag = checker<FlagBody>(object({ phrase, reason: { type: "string", minLength: 1, maxLength: 500, pattern: "\\S" } }));

export interface ClearFlagBody { readonly phrase: string }
export const checkClearFlag = checker<ClearFlagBody>(object({ phrase }));
