/**
 * What a lease says of the frame to render, as the builder of frame jobs takes it.
 * Paths become absolute here, on this machine: leases know only roots and folders.
 */
import path from "node:path";
import type { LookSources } from "@/core/plan/fingerprint";
import { frameName, type ReadPlan, versionName } from "@/core/plan/plan";
import type { FrameWork } from "../engines/frame-job";
import { asideFolder, proofAsideFolder, proofFolder, sequenceFolder } from "../files/layout";
import { insideFolder } from "../files/paths";
import { frozenName } from "../scenes/scene-files";
import { engineOf } from "../scenes/renderers";
import type { LeasedFrame } from "../queue/leased-frame";

/** What the render really uses: files that this node does not see are null. */
const usedSources = (lease: LeasedFrame, without: readonly string[]): LookSources => ({
  ...lease.sources,
  files: { ...lease.sources.files, ...Object.fromEntries(without.map((file) => [file, null])) },
  engine: engineOf(lease.plan.renderer),
});

/** @param version its folder
 * @param without files that this node does not see
 */
export const workOf = (
  lease: LeasedFrame,
  node: string,
  version: string,
  without: readonly string[],
): Pick<
  FrameWork,
  "scene" | "plan" | "sources" | "camera" | "frame" | "temporaryBy" | "maker" | "hidden"
> => ({
  scene: path.join(version, lease.sceneFolder, frozenName(lease.plan.renderer, lease.plan.scene)),
  plan: lease.plan,
  sources: usedSources(lease, without),
  camera: lease.camera,
  frame: lease.frame,
  temporaryBy: lease.attemptId,
  maker: { version: versionName(lease), node, attempt: lease.attemptId },
  hidden: without,
});

/** Where what a leased frame replaces is kept. */
export const asideOf = (lease: LeasedFrame, version: string, pass: string): string =>
  lease.kind === "proof"
    ? proofAsideFolder(version, lease.runId, lease.camera, pass)
    : asideFolder(version, lease.camera, pass);

/** Where each pass of a leased frame goes. Proofs go to a folder of their own. Makes no folder. */
export async function finalsOf(
  lease: LeasedFrame,
  read: ReadPlan,
  version: string,
): Promise<FrameWork["finals"]> {
  const finals: FrameWork["finals"][number][] = [];
  for (const pass of lease.sequenceIds.keys()) {
    const relative =
      lease.kind === "proof"
        ? proofFolder(lease.runId, lease.camera, pass)
        : sequenceFolder(lease.camera, pass);
    const folder = await insideFolder(version, relative);
    finals.push({ pass, final: path.join(folder, frameName(read, { ...lease, pass }, lease.frame)) });
  }
  return finals;
}
