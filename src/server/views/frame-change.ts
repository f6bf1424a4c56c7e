/** A frame before and after: the file kept aside beside the one that replaced it. */
import path from "node:path";
import { meanDifference, noiseOf } from "@/core/image/measure";
import { isPass } from "@/core/plan/passes";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { shownPixels } from "../files/showable";
import { fileOfFrame } from "../store/frame-files";
import { measuresOfSmall, smallBefore, smallFolderOf, smallPictures } from "../folder/small-pictures";
import { requireSequence, type SequenceRow } from "../store/shots";
import { originOf } from "../files/origin";
import { sequencePlace } from "../files/layout";
import { requireAside, asideFolderOf } from "../folder/aside";
import type { FrameChangeView } from "@/contract/sequence-view";
import { readRegular } from "../files/read-regular";

const pixelsOf = async (file: string): Promise<Buffer> =>
  readRegular(file).catch(() => {
    throw new TallyError("picture-gone", { what: "a small picture" });
  });

/** The same of frames that something else makes: of the file before, its small picture and its measures are kept. */
async function changeOfWatched(sequence: SequenceRow, frame: number): Promise<FrameChangeView> {
  const file = await fileOfFrame(pool(), sequence.id, frame);
  if (file === null) throw new TallyError("picture-none", { frame });
  const pictures = (await smallPictures(sequence)).get(frame);
  const before = smallBefore(pictures, file.content);
  const now = pictures?.find((picture) => file.content?.startsWith(picture.content) === true);
  const measures = before === undefined ? null : await measuresOfSmall(sequence, before);
  if (before === undefined || now === undefined || measures === null)
    throw new TallyError("before-none", { frame });
  const folder = smallFolderOf(sequence);
  // Small pictures are as they are shown, whatever the pass.
  const [shownBefore, shownNow] = [
    await shownPixels(before.name, await pixelsOf(path.join(folder, before.name)), "beauty"),
    await shownPixels(now.name, await pixelsOf(path.join(folder, now.name)), "beauty"),
  ];
  return {
    file: before.name,
    isSmall: true,
    before: measures,
    now: (await measuresOfSmall(sequence, now)) ?? {
      samples: null,
      noise: file.noise ?? 0,
      bytes: file.bytes,
    },
    difference: meanDifference(shownBefore, shownNow),
  };
}

/**
 * Compares a frame's file with the last one kept aside of it: what both headers say, and by how much the
 * pictures differ.
 * @throws TallyError `picture-none` where either is missing
 */
export async function changeOfFrame(sequenceId: number, frame: number): Promise<FrameChangeView> {
  const sequence = await requireSequence(sequenceId);
  if (sequence.source !== null) return changeOfWatched(sequence, frame);
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
    isSmall: false,
    before: sideOf(before!, shownBefore),
    now: sideOf(now!, shownNow),
    difference: meanDifference(shownBefore, shownNow),
  };
}
