/**
 * The first part of a run whose scene asks for gathered light: at which frames it must be there, and where it
 * is.
 */
import { type FrameSet, members, setOf } from "@/core/frames/frame-set";
import type { LookSources } from "@/core/plan/fingerprint";
import { lightFrames } from "@/core/run/gathered-light";
import type { Plan } from "@/core/plan/plan";
import { faultOfLight, type LightFault } from "../files/gathered-light-files";
import type { SequenceRow } from "../store/shots";
import { gatheredLightFile, gatheredLightFolder, versionPlace } from "../files/layout";
import { beautyLook } from "../scenes/prints";

/** What frames of a camera need, and what of it is there. */
export interface LightNeed {
  readonly camera: string;
  /** Of the cache's own frames. */
  readonly missing: FrameSet;
  /** There, but damaged, or made from another scene or plan. */
  readonly unfit: FrameSet;
  /** Scene frames whose light fits. */
  readonly there: FrameSet;
}

/** What decides the light: other settings may change and it still fits. */
export interface LightWish {
  readonly plan: Plan;
  readonly sources: LookSources;
  /** Frames from one cache to the next. */
  readonly every: number;
}

/** What the frames of one camera need of the cache.
 * @param sequence any of the version
 */
export async function lightNeed(
  sequence: SequenceRow,
  { plan, sources, every }: LightWish,
  camera: string,
  frames: FrameSet,
): Promise<LightNeed> {
  const folder = gatheredLightFolder(versionPlace(sequence), camera);
  const look = beautyLook(plan, sources, camera);
  const found: (readonly [number, LightFault | null])[] = [];
  for (const frame of members(lightFrames(frames, every)))
    found.push([frame, await faultOfLight(gatheredLightFile(folder, frame), look)]);
  const having = (...faults: readonly (LightFault | null)[]): FrameSet =>
    setOf(found.filter(([, fault]) => faults.includes(fault)).map(([frame]) => frame));
  return { camera, missing: having("missing"), unfit: having("damaged", "other"), there: having(null) };
}
