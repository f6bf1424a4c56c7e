/** The settings of the house as the page shows them, each with where it comes from. */
import type { CallMoment, KeepDays, ProgramCall } from "./configuration";
import type { HouseAnswer, TryAnswer, TryQuestion } from "./node-request";
import { BOUNDS, FRAME, nameOfLength, textOfLength } from "./bounds";
import { MACHINE_NAME } from "@/core/naming/name";
import type { RendererOffer } from "@/core/plan/renderer-offer";
import { checker, objectOf } from "./validate";
import type { WebhookView } from "./webhook";

/** Where a value comes from: an environment variable, the file, or nowhere, so that it is as usual. */
export type Source = "environment" | "file" | "usual";

export interface SettingView {
  /** Its key in the file. */
  readonly name: string;
  /** As text; of a database without its password. */
  readonly value: string;
  readonly source: Source;
  /** The variable that sets it; null where none could. */
  readonly variable: string | null;
}

export interface SettingsView {
  /** Absolute. */
  readonly file: string;
  readonly hasFile: boolean;
  /** In the order of the file. */
  readonly values: readonly SettingView[];
  readonly roots: readonly {
    readonly name: string;
    /** Absolute, on the server. */
    readonly folder: string;
    /** Null where the disk cannot be asked. */
    readonly freeBytes: number | null;
    /** Titles of the projects that lie there, archived ones too. */
    readonly projects: readonly string[];
  }[];
  /** The stand-in first. */
  readonly renderers: readonly {
    readonly offer: RendererOffer;
    /** Null: it comes along. */
    readonly program: string | null;
    readonly version: string | null;
    /** Frames of it that may be in work at once, over all nodes; null: as many as nodes take. */
    readonly atOnce: number | null;
  }[];
  /** Null: nothing is called. */
  readonly programCalls: Readonly<Record<CallMoment, ProgramCall | null>>;
  readonly keep: KeepDays;
  /** By name. */
  readonly webhooks: readonly WebhookView[];
}

export interface RendererLimitBody {
  /** Null: as many as nodes take. */
  readonly atOnce: number | null;
}
export const checkRendererLimit = checker<RendererLimitBody>(
  objectOf<RendererLimitBody>({
    atOnce: { type: ["integer", "null"], minimum: 1, maximum: BOUNDS.atOnce },
  }),
);

/** What each node answered; null: it did not within a few seconds. */
export interface HouseSeenView {
  readonly nodes: readonly { readonly node: string; readonly answer: HouseAnswer | null }[];
}

export interface StartedTry {
  readonly id: number;
}

export interface TryView {
  /** Null: the node is at it, or has not heard of it yet. */
  readonly answer: TryAnswer | null;
}

/** A renderer is tried on a node, with a scene of a project. */
export interface TryBody extends Pick<TryQuestion, "scene" | "renderer" | "camera" | "frame"> {
  readonly node: string;
  readonly project: string;
}

export const checkTry = checker<TryBody>(
  objectOf<TryBody>({
    node: { type: "string", pattern: MACHINE_NAME },
    project: textOfLength(BOUNDS.projectName),
    scene: textOfLength(BOUNDS.path),
    renderer: textOfLength(BOUNDS.name),
    camera: nameOfLength(BOUNDS.cameraName),
    frame: FRAME,
  }),
);
