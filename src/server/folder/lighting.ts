/** The first part of a run whose scene asks for a lighting cache: which caches its frames need, and which of them are there. */
import { type FrameSet, members, setOf } from "@/core/frames/frame-set";
import type { LookSources } from "@/core/plan/fingerprint";
import { lightingFrames } from "@/core/run/lighting";
import type { Plan } from "@/core/plan/plan";
import { faultOfLighting, type LightingFault } from "../files/lighting-files";
import type { SequenceRow } from "../store/shots";
import { gatheredLightFile, gatheredLightFolder, versionPlace } from "../files/layout";
import { beautyLook } from "../scenes/prints";

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
  const folder = gatheredLightFolder(versionPlace(sequence), camera);
  const look = beautyLook(plan, sources, camera);
  const found: (readonly [number, LightingFault | null])[] = [];
  for (const frame of members(lightingFrames(frames, every)))
    found.push([frame, await faultOfLighting(gatheredLightFile(folder, frame), look)]);
  const having = (...faults: readonly (LightingFault | null)[]): FrameSet =>
    setOf(found.filter(([, fault]) => faults.includes(fault)).map(([frame]) => frame));
  return { camera, missing: having("missing"), unfit: having("damaged", "other"), there: having(null) };
}
