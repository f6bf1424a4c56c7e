/** A frame before and after: the file kept aside beside the one that replaced it. */
import path from "node:path";
import { meanDifference, noiseOf } from "@/core/image/measure";
import { isPass } from "@/core/plan/passes";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { shownPixels } from "../files/showable";
import { fileOfFrame } from "../store/frame-files";
import { requireSequence } from "../store/shots";
import { originOf } from "../files/origin";
import { sequencePlace } from "../files/layout";
import { requireAside, asideFolderOf } from "../folder/aside";
import type { FrameChangeView } from "@/contract/sequence-view";
import { readRegular } from "../files/read-regular";

/**
 * Compares a frame's file with the last one kept aside of it: what both headers say, and by how much the
 * pictures differ.
 * @throws TallyError `picture-none` where either is missing
 */
export async function changeOfFrame(sequenceId: number, frame: number): Promise<FrameChangeView> {
  const sequence = await requireSequence(sequenceId);
  const [file, aside] = [await fileOfFrame(pool(), sequenceId, frame), await requireAside(sequence, frame)];
  if (file === null) throw new TallyError("picture-none", { frame });
  const pass = isPass(sequence.pass) ? sequence.pass : "beauty";
  const [now, before] = await Promise.all(
    [
      path.join(sequencePlace(sequence), path.basename(file.name)),
      path.join(asideFolderOf(sequence), aside),
    ].map((place) =>
      readRegular(place).catch(() => {
        throw new TallyError("picture-gone", { what: `frame ${frame}` });
      }),
    ),
  );
  const [shownNow, shownBefore] = [
    await shownPixels(file.name, now!, pass),
    await shownPixels(aside, before!, pass),
  ];
  const sideOf = (bytes: Buffer, shown: typeof shownNow) => ({
    samples: originOf(bytes).samples,
    noise: noiseOf(shown),
    bytes: bytes.length,
  });
  return {
    file: aside,
    before: sideOf(before!, shownBefore),
    now: sideOf(now!, shownNow),
    difference: meanDifference(shownBefore, shownNow),
  };
}
