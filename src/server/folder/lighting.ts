/** The first part of a run whose scene asks for a lighting cache: which caches its frames need, and which of them are there. */
import path from "node:path";
import { type FrameSet, members, setOf } from "@/core/frames/frame-set";
import { fingerprintsOf, type LookSources } from "@/core/plan/fingerprint";
import { lightingFrames } from "@/core/run/lighting";
import type { Plan } from "@/core/plan/plan";
import { DENOISER_VERSION } from "@/render/denoise";
import { faultOfLighting, type LightingFault, lightingFile, lightingFolder } from "../files/lighting-files";
import { projectFolder, versionFolder } from "../files/paths";
import type { SequenceRow } from "../store/shots";

export interface LightingNeed {
  readonly camera: string;
  /** Of the cache's own frames. */
  readonly missing: FrameSet;
  /** There, but damaged, or made from another scene or plan. */
  readonly unfit: FrameSet;
  readonly there: FrameSet;
}

export interface LightingWish {
  readonly plan: Plan;
  readonly sources: LookSources;
  /** Frames from one cache to the next. */
  readonly every: number;
}

/** What the frames of one camera need of the cache.
 * @param sequence any of the version
 */
export async function lightingNeed(
  sequence: SequenceRow,
  { plan, sources, every }: LightingWish,
  camera: string,
  frames: FrameSet,
): Promise<LightingNeed> {
  const folder = lightingFolder(
    path.join(projectFolder(sequence), versionFolder(sequence.shot, sequence)),
    camera,
  );
  const { look } = fingerprintsOf(plan, sources, { camera, pass: "beauty" }, DENOISER_VERSION);
  const found: (readonly [number, LightingFault | null])[] = [];
  for (const frame of members(lightingFrames(frames, every)))
    found.push([frame, await faultOfLighting(lightingFile(folder, frame), look)]);
  const having = (...faults: readonly (LightingFault | null)[]): FrameSet =>
    setOf(found.filter(([, fault]) => faults.includes(fault)).map(([frame]) => frame));
  return { camera, missing: having("missing"), unfit: having("damaged", "other"), there: having(null) };
}
