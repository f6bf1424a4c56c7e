/** Frames of a sequence that were made again: what they were before, what they are now, and why. */
import fs from "node:fs/promises";
import path from "node:path";
import type { ReportRedone } from "@/core/handover/report-page";
import { groupBy } from "@/core/many";
import { acceptedFolder } from "../files/layout";
import { originOf } from "../files/origin";
import { readRegular } from "../files/read-regular";
import { asideFiles, asideFolderOf, asideNamesIn } from "../folder/aside";
import { smallBefore, smallFolderOf, smallPictures } from "../folder/small-pictures";
import type { FindingRow } from "../store/findings";
import { fileOf, type ReelSource } from "./reel";

/** Of more frames pictures are no report, and its file no letter. */
const PICTURED = 60;

/** The file before of each frame, absolute: waiting to be accepted, or accepted; of frames from elsewhere a small one. */
async function beforesOf({ sequence, files }: ReelSource): Promise<ReadonlyMap<number, string>> {
  if (sequence.source !== null) {
    const small = await smallPictures(sequence);
    return new Map(
      [...files].flatMap(([frame, { content }]) => {
        const before = smallBefore(small.get(frame), content);
        return before === undefined
          ? []
          : [[frame, path.join(smallFolderOf(sequence), before.name)] as const];
      }),
    );
  }
  const folder = asideFolderOf(sequence);
  const further = acceptedFolder(folder);
  const of = async (place: string): Promise<(readonly [number, string])[]> =>
    [...asideFiles(await asideNamesIn(place))].map(([frame, name]) => [frame, path.join(place, name)]);
  // What waits is newer than what was accepted.
  return new Map([...(await of(further)), ...(await of(folder))]);
}

/** @param shown a small JPEG of a file; rejects for what cannot be shown */
export async function redoneOf(
  source: ReelSource,
  findings: readonly FindingRow[],
  shown: (file: string) => Promise<Buffer>,
): Promise<readonly ReportRedone[]> {
  const reasons = groupBy(findings, ({ frame }) => frame);
  const picture = (file: string): Promise<string | null> =>
    shown(file).then(
      (jpeg) => jpeg.toString("base64"),
      () => null,
    );
  const redone: ReportRedone[] = [];
  const befores = [...(await beforesOf(source))].sort(([a], [b]) => a - b);
  for (const [i, [frame, place]] of befores.entries()) {
    const now = source.files.get(frame);
    const bytes = await readRegular(place).catch(() => null);
    // Gone while it was told: a person has tidied up.
    if (bytes === null) continue;
    const was = originOf(bytes);
    const stat = await fs.stat(place).catch(() => null);
    redone.push({
      frame,
      why: [...new Set((reasons.get(frame) ?? []).map(({ text }) => text))],
      before: { node: was.node, samples: was.samples, at: stat?.mtimeMs ?? null },
      now: now === undefined ? null : { node: now.node, samples: now.samples, at: now.modifiedMs },
      pictures:
        i >= PICTURED
          ? null
          : {
              before: await picture(place),
              now: now === undefined ? null : await picture(path.join(source.folder, fileOf(source, frame))),
            },
    });
  }
  return redone;
}
