/**
 * The plan file of a hand-out: all that a machine without database and storage needs to render its share.
 * A machine with this file, the scene and the program needs nothing else: what is to be rendered was
 * decided when the run was handed out. The file may be edited on its way, so that it is read like any other
 * input.
 */
import { MACHINE_NAME } from "@/core/naming/name";
import { BOUNDS, ID, nameOfLength, textOfLength } from "./bounds";
import type { LookSources } from "@/core/plan/fingerprint";
import { type Plan, PURPOSES, type Purpose } from "@/core/plan/plan";
import { planSchema } from "./plan";
import { checker, objectOf } from "./validate";

/** Stands in every plan file that leaves the house, so that an older program says that it is too old. */
export const HAND_OUT_FORMAT = "plain-tally hand-out 1";

export interface Share {
  /** Given by a person; part of the name of the folder that comes back. */
  readonly machine: string;
  /** A phrase in plain numbers. */
  readonly frames: string;
}

export interface HandOut {
  readonly format: typeof HAND_OUT_FORMAT;
  /** Number of the run in the house that handed it out: what comes back is taken in there. */
  readonly run: number;
  /** Of the project, as file names have it, such as `harbour-lights`. */
  readonly project: string;
  /** Code of the shot, as file names have it. */
  readonly shot: string;
  /** Number of the version, without its letter. */
  readonly version: number;
  readonly purpose: Purpose;
  /** As it was when the run was handed out; later revisions do not reach it. */
  readonly plan: Plan;
  /** What the pictures depend on, by content: proved before the first frame. */
  readonly sources: LookSources;
  /** Frozen scene, relative to the plan file. */
  readonly sceneFolder: string;
  /** Of all machines: one file serves each, which says by name who it is. */
  readonly shares: readonly Share[];
}

const text = textOfLength(BOUNDS.word);
/** What a machine is to render, by a phrase. Page and plan file call the phrase differently. */
export const shareSchema = (phraseKey: "frames" | "phrase") =>
  objectOf({
    machine: { type: "string", pattern: MACHINE_NAME },
    [phraseKey]: { type: "string", minLength: 1, maxLength: BOUNDS.sharePhrase },
  });

/** The plan file as a machine without database reads it: it may have been edited on the way. */
export const checkHandOut = checker<HandOut>(
  objectOf<HandOut>({
    format: { const: HAND_OUT_FORMAT },
    run: ID,
    project: nameOfLength(BOUNDS.projectName),
    shot: nameOfLength(BOUNDS.shotCode),
    version: ID,
    purpose: { enum: PURPOSES },
    plan: planSchema,
    sources: objectOf<LookSources>({
      scene: text,
      engine: text,
      files: { type: "object", additionalProperties: { anyOf: [text, { type: "null" }] } },
    }),
    sceneFolder: textOfLength(BOUNDS.path),
    shares: { type: "array", minItems: 1, maxItems: BOUNDS.shares, items: shareSchema("frames") },
  }),
);
