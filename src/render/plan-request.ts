/**
 * What a plan asks the renderer for, for one file number.
 * The one place where a number of a file becomes a time of the scene, and settings become what the renderer
 * takes.
 */
import type { Scene } from "@/contract/scene";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { viewOf } from "@/core/plan/camera-move";
import { scaledSize } from "@/core/plan/picture";
import type { ReadPlan } from "@/core/plan/plan";
import type { Pass } from "@/core/plan/passes";
import { sceneTime } from "@/core/plan/scene-time";
import type { FrameRequest } from "./render-frame";
import type { Texture } from "./texture";

export interface FrameOfPlan {
  readonly read: ReadPlan;
  readonly scene: Scene;
  readonly textures: ReadonlyMap<string, Texture>;
  /** As the scene calls it. */
  readonly camera: string;
  /** Number of the file. */
  readonly frame: number;
  /** Passes that are written: more than beauty needs the layers. */
  readonly passes: readonly Pass[];
}

/** Everything that decides the pixels of one frame, and nothing else: no clock, no node, no file. */
export function requestOf({ read, scene, textures, camera, frame, passes }: FrameOfPlan): FrameRequest {
  const { plan, asked } = read;
  const first = firstOf(asked) ?? frame;
  return {
    scene,
    textures,
    camera,
    frame: sceneTime(plan, frame),
    ...scaledSize(plan),
    samples: plan.samples,
    seed: plan.seed,
    pixelAspect: plan.pixelAspect,
    filter: plan.filter,
    shading: plan.shading,
    sameGrain: plan.grain === "same",
    minSamples: plan.minSamples,
    layers: passes.some((pass) => pass !== "beauty" && pass !== "background"),
    cover: plan.alpha !== "none" || passes.includes("background"),
    sampling: plan.sampling,
    ...(plan.shutter === "scene" ? {} : { shutter: plan.shutter }),
    ...(plan.lens === "scene" ? {} : { lens: plan.lens === "off" ? null : plan.lens }),
    ...(plan.noiseTarget === null ? {} : { noiseTarget: plan.noiseTarget }),
    ...(plan.move === null
      ? {}
      : { view: viewOf(plan.move, frame - first, (lastOf(asked) ?? frame) - first + 1) }),
  };
}
