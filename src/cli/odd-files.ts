/** Files that are odd among the others of their sequence, in any folder: no plan and no database say what is usual. */
import fs from "node:fs/promises";
import path from "node:path";
import { EMPTY } from "@/core/frames/frame-set";
import type { MeasuredPicture, Measures } from "@/core/image/measure-picture";
import { groupBy } from "@/core/many";
import { groupFiles } from "@/core/naming/group-files";
import { type Odd, USUAL_THRESHOLDS } from "@/core/odd/odd";
import { oddOnes } from "@/core/odd/odd-ones";
import { otherFrames } from "@/core/odd/other-frames";
import { profileOf } from "@/core/odd/profile";
import { sha256 } from "@/server/files/content";
import type { FileOrigin } from "@/server/files/origin";

export interface MeasuredFile {
  readonly file: string;
  /** Of the file. */
  readonly bytes: number;
  readonly modifiedMs: number;
  readonly says: FileOrigin;
  readonly measured: MeasuredPicture;
}

/** Of files that may be the same, by their bytes: reading all a second time would take as long as looking at them. */
async function contentsOf(files: readonly MeasuredFile[]): Promise<ReadonlyMap<string, string>> {
  const alike = groupBy(files, ({ bytes, measured }) => `${bytes} ${measured.pixels}`);
  const contents = new Map<string, string>();
  for (const group of alike.values())
    if (group.length > 1)
      for (const { file } of group)
        // One that went meanwhile is like no other.
        contents.set(file, await fs.readFile(file).then(sha256, () => file));
  return contents;
}

export interface FileOddities {
  readonly measures: Measures;
  readonly odd: readonly OddFile[];
}

/** What is odd of a file among others, or against its own name. */
type OddFile = Omit<Odd, "frame" | "code"> & { readonly code: Odd["code"] | "other-frame" };

/** Files that say of themselves that they are other frames', by frame. */
const saidOtherwise = (files: ReadonlyMap<number, MeasuredFile>): ReadonlyMap<number, readonly OddFile[]> =>
  new Map(
    otherFrames(
      [...files].flatMap(([frame, { says }]) => (says.frame === null ? [] : [{ frame, says: says.frame }])),
    ).map(({ frame, says, expected }) => [
      frame,
      [
        {
          code: "other-frame",
          value: says,
          expected,
          region: null,
          sentence: `The file says that it is frame ${says}; by its name and by the others it is ${expected}.`,
        },
      ],
    ]),
  );

/** By file. Each sequence of each folder is looked at by itself. */
export async function oddFiles(files: readonly MeasuredFile[]): Promise<ReadonlyMap<string, FileOddities>> {
  const told = new Map<string, FileOddities>(
    files.map(({ file, measured: { measures } }) => [file, { measures, odd: [] }] as const),
  );
  const contents = await contentsOf(files);
  for (const inFolder of groupBy(files, ({ file }) => path.dirname(file)).values()) {
    const byName = new Map(inFolder.map((one) => [path.basename(one.file), one]));
    const { sequences } = groupFiles(
      inFolder.map((one) => ({ name: path.basename(one.file), bytes: one.bytes })),
    );
    for (const sequence of sequences) {
      const fileOf = new Map(sequence.files.map(({ frame, name }) => [frame, byName.get(name)!]));
      const otherwise = saidOtherwise(fileOf);
      for (const [frame, { file, measured }] of fileOf)
        told.set(file, { measures: measured.measures, odd: otherwise.get(frame) ?? [] });
      const frames = [...fileOf].map(([frame, { file, bytes, modifiedMs, says, measured }]) => ({
        frame,
        ...measured,
        bytes,
        content: contents.get(file) ?? file,
        seconds: null,
        samples: says.samples,
        modifiedMs,
      }));
      for (const { frame, ...odd } of oddOnes(profileOf(frames), USUAL_THRESHOLDS, {
        flashes: EMPTY,
        holds: EMPTY,
      })) {
        const { file } = fileOf.get(frame)!;
        const { measures, odd: before } = told.get(file)!;
        told.set(file, { measures, odd: [...before, odd] });
      }
    }
  }
  return told;
}
