/**
 * What pages and programs send to the server, each body with the schema that checks it where it enters.
 * Shape and size are judged here, and nowhere a second time. What a phrase or a plan means is for the core,
 * which tells its own faults with a column or a field. A body names what it changes by id and never carries
 * a state: what follows from it is decided by the server alone.
 */
import type { FindingPlace } from "./sequence-view";
import type { PresetSettings } from "@/core/plan/preset";
import { type Plan, PURPOSES, type Purpose } from "@/core/plan/plan";
import { RUN_ORDERS } from "@/core/run/run-order";
import { POLICIES, type Policy } from "@/core/run/what-to-render";
import { BOUNDS, FRAME, ID, nameOfLength, textOfLength } from "./bounds";
import { shareSchema } from "./hand-out";
import { type DiscardBody, DISCARDS } from "./discards";
import { PRIORITIES, type RunManner } from "./run-manner";
import { type WishBody, wishSchema } from "./handover";
import { planSchema, presetName, presetSettings } from "./plan";
import { checker, objectOf } from "./validate";

const phrase = { type: "string", minLength: 1, maxLength: BOUNDS.phrase } as const;
export interface SavePlanBody {
  /** The version whose next revision this is. */
  readonly versionId: number;
  /** Number of the revision that the edits were made on. */
  readonly basedOn: number;
  /** Whole, also where one field changed: a revision stands by itself. */
  readonly plan: Plan;
}
/**
 * A plan to save. `basedOn` is the revision that it was changed from: another one meanwhile is a clash to be
 * told.
 */
export const checkSavePlan = checker<SavePlanBody>(
  objectOf<SavePlanBody>({ versionId: ID, basedOn: ID, plan: planSchema }),
);

export interface OpenVersionBody {
  readonly plan: Plan;
  /** Roughs and finals are numbered apart. */
  readonly purpose: Purpose;
  /** For a rough version: the revision that it was made from. */ readonly fromRevisionId: number | null;
}
/** A new version with its first plan; `fromRevisionId` says of a rough what it was made from. */
export const checkOpenVersion = checker<OpenVersionBody>(
  objectOf<OpenVersionBody>({
    plan: planSchema,
    purpose: { enum: PURPOSES },
    fromRevisionId: { anyOf: [ID, { type: "null" }] },
  }),
);

const nodeNames = {
  anyOf: [
    { type: "null" },
    { type: "array", items: nameOfLength(BOUNDS.nodeName), minItems: 1, maxItems: BOUNDS.nodesNamed },
  ],
} as const;

const time = { anyOf: [{ type: "null" }, { type: "integer", minimum: 0, maximum: 8.64e15 }] };
const manner = {
  nodes: nodeNames,
  order: { enum: RUN_ORDERS },
  priority: { enum: PRIORITIES },
  startAt: time,
  stopAt: time,
  batch: { type: ["integer", "null"], minimum: 1, maximum: BOUNDS.batch },
  after: { anyOf: [{ type: "null" }, ID] },
};

/** What is left out of its manner goes as usual. */
export interface StartRunBody extends Partial<RunManner> {
  /** Frames by the numbers of their files; `all` is what the plan asks for. */
  readonly phrase: string;
  /** Which of them need rendering: what is there already is decided by this. */
  readonly policy: Policy;
  /** Names; null lets every node take part, also one that comes later. */
  readonly nodes: readonly string[] | null;
  /** `version`: every sequence that the plan asks for; `sequence`: this one alone. */ readonly scope:
    "version" | "sequence";
  /** Other versions that the run covers, by name. */ readonly also?: readonly string[];
  /** A fixed split over machines that are not connected. */ readonly shares?: readonly {
    /** Part of the name of its folder. */
    readonly machine: string;
    readonly phrase: string;
  }[];
  /** Opens the next version with the saved plan and renders in that. */
  readonly inNextVersion?: boolean;
  /** What is handed over of the sequence once all of these frames are good. */
  readonly then?: readonly WishBody[];
}
/** A run to start. All but phrase and policy may be left out and then goes as usual. */
export const checkStartRun = checker<StartRunBody>(
  objectOf<StartRunBody>(
    {
      phrase,
      policy: { enum: POLICIES },
      scope: { enum: ["version", "sequence"] },
      also: { type: "array", maxItems: BOUNDS.versionsAlso, uniqueItems: true, items: textOfLength(20) },
      shares: { type: "array", minItems: 1, maxItems: BOUNDS.shares, items: shareSchema("phrase") },
      inNextVersion: { type: "boolean" },
      then: { type: "array", minItems: 1, maxItems: BOUNDS.follow, items: wishSchema },
      ...manner,
    },
    ["phrase", "policy", "nodes", "scope"],
  ),
);

/** What is left out stays as it is. */
export interface ChangeRunBody extends Partial<RunManner> {
  /** What the run shall be for from now on. Frames in work are finished. */
  readonly phrase?: string;
  readonly policy?: Policy;
}
/** What is to change of a run that goes, at least one thing. */
export const checkChangeRun = checker<ChangeRunBody>({
  ...objectOf<ChangeRunBody>({ phrase, policy: { enum: POLICIES }, ...manner }, []),
  minProperties: 1,
});

export interface DecideVersionBody {
  /** `choose` retires the version's siblings, `open` takes that back. */
  readonly decision: "choose" | "open";
  /** In the words of whoever decides; left out: none. */
  readonly why?: string;
}
/** Choose a version among the looks, or open the choice again. */
export const checkDecideVersion = checker<DecideVersionBody>(
  objectOf<DecideVersionBody>(
    {
      decision: { enum: ["choose", "open"] },
      why: { type: "string", minLength: 1, maxLength: BOUNDS.reason, pattern: "\\S" },
    },
    ["decision"],
  ),
);

export interface TakeBackBody {
  readonly machine: string;
}
/** Take back what a machine of a hand-out was given. */
export const checkTakeBack = checker<TakeBackBody>(
  objectOf<TakeBackBody>({ machine: nameOfLength(BOUNDS.machineName) }),
);

export interface StopRunBody {
  /** `now` saves samples where the renderer can, and gives the frames back. */
  readonly how: "after-frames" | "now";
}
/** Stop a run after its running frames, or now with the samples saved. */
export const checkStopRun = checker<StopRunBody>(
  objectOf<StopRunBody>({ how: { enum: ["after-frames", "now"] } }),
);

/** A frame in work; `leadId` is the beauty sequence of its camera. */
export interface PutBackBody {
  readonly leadId: number;
  /** It is given back, and comes last in its run. */
  readonly frame: number;
}
/** Put one frame that was set aside back into its run. */
export const checkPutBack = checker<PutBackBody>(objectOf<PutBackBody>({ leadId: ID, frame: FRAME }));

export interface FlagBody {
  readonly phrase: string;
  /** Stands at each of the frames until the flag is taken back or the frame is made anew. */
  readonly reason: string;
  /** Where in the pictures it is; left out: all over them. */
  readonly place?: FindingPlace;
}

const part = { type: "number", minimum: 0, maximum: 1 } as const;
const side = { type: "number", exclusiveMinimum: 0, maximum: 1 } as const;

/** Reject frames for a reason in a person's words; a blank one is none. */
export const checkFlag = checker<FlagBody>(
  objectOf<FlagBody>(
    {
      phrase,
      reason: { type: "string", minLength: 1, maxLength: BOUNDS.reason, pattern: "\\S" },
      place: objectOf<FindingPlace>({ left: part, top: part, width: side, height: side }),
    },
    ["phrase", "reason"],
  ),
);

export interface ClearFlagBody {
  readonly phrase: string;
}
/** Take back the flags of frames. */
export const checkClearFlag = checker<ClearFlagBody>(objectOf<ClearFlagBody>({ phrase }));

/**
 * `strip`: numbers of samples of a test strip, each with and without denoising; null for plain proofs. The
 * plan may have edits that are not saved.
 */
export interface StartProofsBody {
  readonly phrase: string;
  readonly plan: Plan;
  /** Names; null is every node. */
  readonly nodes: readonly string[] | null;
  readonly strip: readonly number[] | null;
}
/** Frames to prove with a plan that need not be saved, alone or as a strip over choices of one setting. */
export const checkStartProofs = checker<StartProofsBody>(
  objectOf<StartProofsBody>({
    phrase,
    plan: planSchema,
    nodes: nodeNames,
    strip: {
      anyOf: [
        { type: "null" },
        {
          type: "array",
          items: { type: "integer", minimum: 1, maximum: BOUNDS.samples },
          minItems: 1,
          maxItems: BOUNDS.strip,
        },
      ],
    },
  }),
);

export interface ImportEditBody {
  /** Of the file that was chosen. */
  readonly name: string;
  /** The file's whole content, of at most 50 million characters. */
  readonly text: string;
}
/** An edit list as a text; its name tells the format where the text does not. */
export const checkImportEdit = checker<ImportEditBody>(
  objectOf<ImportEditBody>({
    name: { ...textOfLength(BOUNDS.word), minLength: 1 },
    text: textOfLength(BOUNDS.listText),
  }),
);

export interface SavePresetBody {
  readonly name: string;
  readonly settings: PresetSettings;
}
/** Settings to keep under a name. */
export const checkSavePreset = checker<SavePresetBody>(
  objectOf<SavePresetBody>({ name: presetName, settings: presetSettings }),
);
/** Another name for a preset. */
export const checkRenamePreset = checker<{ readonly name: string }>(
  objectOf<{ readonly name: string }>({ name: presetName }),
);
/** A preset file, as a text: its faults are told with their line. */
export const checkImportPreset = checker<{ readonly text: string }>(
  objectOf<{ readonly text: string }>({ text: textOfLength(BOUNDS.presetText) }),
);

/** What is to be discarded, of which frames. */
export const checkDiscard = checker<DiscardBody>(
  objectOf<DiscardBody>({
    what: { type: "array", items: { enum: DISCARDS }, minItems: 1, uniqueItems: true },
    phrase: { anyOf: [{ type: "null" }, phrase] },
    scope: { enum: ["sequence", "version"] },
    isDry: { type: "boolean" },
  }),
);
