/**
 * The one place that lays out what an engine gets. Who has a frame to render (a lease, the first part
 * of a two-part run, a hand-out, the command line) says where the wish comes from and where the files
 * go; what they share is decided here, and then all do the same:
 *
 *     get a frame --> buildFrameJob --> engine.render --> put the files in their places
 */
import { effortSettings, type Fingerprints, lookSettings, type LookSources } from "@/core/plan/fingerprint";
import type { Pass } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import { checkpointBefore, checkpointFile, keptFolderOfCall, temporaryOf } from "../files/layout";
import { beautyLook, printsOf } from "../scenes/prints";
import type { BUILT, CheckpointJob, FrameJob, Guides, LightJob } from "./engine";

/** Who makes a frame, as its files and saved samples say. */
export interface Maker {
  /** v001 */
  readonly version: string;
  /** Its name. */
  readonly node: string;
  /** null: a machine that is not connected makes no attempts. */
  readonly attempt: number | null;
}

export interface FrameWork {
  /** The scene file to render from. */
  readonly scene: string;
  /** Read and judged before. */
  readonly plan: Plan;
  /** What the render really uses: files that are hidden from it are null. */
  readonly sources: LookSources;
  /** As the scene calls it. */
  readonly camera: string;
  /** Number of the frame's file. */
  readonly frame: number;
  /** Where each pass goes in the end. */
  readonly finals: readonly { readonly pass: Pass; readonly final: string }[];
  /** Ends the temporary names: the attempt, or the process of whoever has none. */
  readonly temporaryBy: number;
  /** null: a person at the command line. */
  readonly maker: Maker | null;
  /**
   * Where the camera's samples are saved, and whether they stay when the frame is good; null: none are saved.
   */
  readonly samples: { readonly folder: string; readonly staysWhenDone: boolean } | null;
  /** Where the camera's gathered light lies; null: it is gathered for this frame alone. */
  readonly light: LightWork | null;
  /** Where files lie that programs leave beside the camera's pictures; null: none are kept. */
  readonly kept: string | null;
  /** Frames that the same engine gets next, for programs that take several. */
  readonly upcoming: readonly number[];
  /** Render seconds of earlier attempts, against the time limit. */
  readonly spentSeconds: number;
  /** Files that this node shall not see: a fault by choice. */
  readonly hidden: readonly string[];
  /** From which the denoised twin alone is made; null: all is rendered. */
  readonly guides: Guides | null;
}

export interface LightWork {
  /** Where gathered light lies. */
  readonly folder: string;
  /** Temporary name of the light that the job makes instead of pictures; null: it reads what is there. */
  readonly output: string | null;
}

/** What most wishes leave as it is. */
export const PLAIN_WORK = {
  samples: null,
  light: null,
  kept: null,
  upcoming: [],
  spentSeconds: 0,
  hidden: [],
  guides: null,
} as const satisfies Partial<FrameWork>;

/** A pass of a job: where it is written, and what it will be. */
export interface PassPlace {
  readonly pass: Pass;
  /** Absolute path. */
  readonly final: string;
  /** Beside it, so that the rename is one step. */
  readonly temporary: string;
  /** Of look, effort and file, as they will stand in the row. */
  readonly fingerprints: Fingerprints;
}

export interface BuiltFrame {
  readonly job: FrameJob;
  readonly passes: readonly PassPlace[];
}

/** Pure: paths, fingerprints and settings of one frame, from a plan and where its files lie. */
export function buildFrameJob(work: FrameWork): BuiltFrame {
  const { plan, sources, camera, frame, maker } = work;
  const passes = work.finals.map(({ pass, final }): PassPlace => ({
    pass,
    final,
    temporary: temporaryOf(final, work.temporaryBy),
    fingerprints: printsOf(plan, sources, { camera, pass }),
  }));
  const fields: Omit<FrameJob, typeof BUILT> = {
    scene: work.scene,
    plan,
    camera,
    frame,
    upcoming: work.upcoming,
    spentSeconds: work.spentSeconds,
    hidden: work.hidden,
    guides: work.guides,
    checkpoint: checkpointOf(work),
    light: lightOf(work),
    keptIn: work.kept === null ? null : keptFolderOfCall(work.kept, frame),
    passes: passes.map(({ pass, temporary, fingerprints }) => ({
      pass,
      output: temporary,
      made: { ...textsOf(maker), camera, pass, frame, ...fingerprints },
    })),
  };
  return { job: fields as FrameJob, passes };
}

const textsOf = (maker: Maker | null): Readonly<Record<string, string | number>> =>
  maker === null
    ? {}
    : {
        version: maker.version,
        node: maker.node,
        ...(maker.attempt === null ? {} : { attempt: maker.attempt }),
      };

function checkpointOf({
  plan,
  sources,
  camera,
  frame,
  maker,
  samples,
  temporaryBy,
}: FrameWork): CheckpointJob | null {
  if (samples === null || maker === null) return null;
  const file = checkpointFile(samples.folder, frame);
  const rule = plan.checkpoints;
  return {
    resumeFrom: [file, checkpointBefore(samples.folder, frame)],
    temporary: temporaryOf(file, temporaryBy),
    everySeconds: rule.kind === "every" ? rule.minutes * 60 : null,
    whenStopped: rule.kind !== "never",
    whenDone: samples.staysWhenDone,
    made: {
      version: maker.version,
      node: maker.node,
      attempt: maker.attempt ?? 0,
      look: { ...lookSettings(plan, sources, "beauty"), camera },
      effort: effortSettings(plan),
    },
  };
}

/**
 * Light that was gathered without a file that this node does not see would spoil the frames of the others.
 */
function lightOf({ plan, sources, camera, maker, light, hidden }: FrameWork): LightJob | null {
  if (light === null || maker === null || hidden.length > 0) return null;
  return { ...light, look: beautyLook(plan, sources, camera), node: maker.node };
}
