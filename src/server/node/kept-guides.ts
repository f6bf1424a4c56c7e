/**
 * The denoised twin alone can be made from what a frame has kept.
 * Beauty, albedo, normal and depth in linear files are all that the denoiser reads: where they are there,
 * whole and of the same look, nothing is rendered for it.
 */
import path from "node:path";
import { type ReadPlan, frameName } from "@/core/plan/plan";
import type { Guides } from "../engines/engine";
import { type Pass, GUIDE_PASSES } from "@/core/plan/passes";
import { sequenceFolder } from "../files/layout";
import { printsOf } from "../scenes/prints";
import { ENGINE } from "../scenes/stand-in";
import { checkFile } from "@/core/image/check-file";
import { imageTools } from "../files/image-tools";
import { originOf } from "../files/origin";
import type { LeasedFrame } from "../queue/leased-frame";
import { readRegular } from "../files/read-regular";

/**
 * Files of the frame from which the denoised twin alone can be made: all there, in linear light, and of the
 * very look that the plan asks for.
 */
export async function keptGuides(
  lease: LeasedFrame,
  read: ReadPlan,
  version: string,
): Promise<Guides | null> {
  if (
    lease.kind !== "sequence" ||
    lease.passes.length !== 1 ||
    lease.passes[0] !== "denoised" ||
    lease.plan.file.kind !== "exr" ||
    // What is grey has lost what the denoiser reads.
    lease.plan.channels === "grey"
  )
    return null;
  const found = new Map<Pass, string>();
  for (const pass of ["beauty", ...GUIDE_PASSES] as const) {
    const file = path.join(
      version,
      sequenceFolder(lease.camera, pass),
      frameName(read, { ...lease, pass }, lease.frame),
    );
    const bytes = await readRegular(file).catch(() => null);
    const { look } = printsOf(
      lease.plan,
      { ...lease.sources, engine: ENGINE },
      { camera: lease.camera, pass },
    );
    if (
      bytes === null ||
      checkFile(file, bytes, imageTools).verdict !== "good" ||
      originOf(bytes).look !== look
    )
      return null;
    found.set(pass, file);
  }
  return Object.fromEntries(found) as Guides;
}
