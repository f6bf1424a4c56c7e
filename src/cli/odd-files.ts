/** Files that are odd among the others of their sequence, in any folder: no plan and no database say what is usual. */
import path from "node:path";
import { EMPTY } from "@/core/frames/frame-set";
import type { Measures } from "@/core/image/measure-picture";
import { groupFiles } from "@/core/naming/group-files";
import { type MeasuredFrame, type Odd, USUAL_THRESHOLDS } from "@/core/odd/odd";
import { oddOnes } from "@/core/odd/odd-ones";
import { profileOf } from "@/core/odd/profile";
import { TallyError } from "@/server/errors";
import { sha256 } from "@/server/files/content";
import { measureFile } from "@/server/files/measure-file";

export interface MeasuredFile extends Omit<MeasuredFrame, "frame"> {
  readonly file: string;
}

/** Null for kinds that are checked and not shown. */
export async function measuredFile(file: string, bytes: Buffer): Promise<MeasuredFile | null> {
  try {
    const measured = await measureFile(file, bytes);
    return { file, ...measured, bytes: bytes.length, content: sha256(bytes), seconds: null };
  } catch (error) {
    if (error instanceof TallyError && error.code === "picture-unreadable") return null;
    throw error;
  }
}

export interface FileOddities {
  readonly measures: Measures;
  readonly odd: readonly Omit<Odd, "frame">[];
}

/** By file. Each sequence of each folder is looked at by itself. */
export function oddFiles(files: readonly MeasuredFile[]): ReadonlyMap<string, FileOddities> {
  const told = new Map<string, FileOddities>(
    files.map(({ file, measures }) => [file, { measures, odd: [] }] as const),
  );
  const byFolder = new Map<string, MeasuredFile[]>();
  for (const one of files) {
    const folder = path.dirname(one.file);
    const known = byFolder.get(folder);
    if (known === undefined) byFolder.set(folder, [one]);
    else known.push(one);
  }
  for (const inFolder of byFolder.values()) {
    const byName = new Map(inFolder.map((one) => [path.basename(one.file), one]));
    const { sequences } = groupFiles(
      inFolder.map((one) => ({ name: path.basename(one.file), bytes: one.bytes })),
    );
    for (const sequence of sequences) {
      const frames = sequence.files.map(({ frame, name }) => ({ frame, ...byName.get(name)! }));
      const fileOf = new Map(frames.map(({ frame, file }) => [frame, file]));
      for (const { frame, ...odd } of oddOnes(profileOf(frames), USUAL_THRESHOLDS, {
        flashes: EMPTY,
        holds: EMPTY,
      })) {
        const file = fileOf.get(frame)!;
        const { measures, odd: before } = told.get(file)!;
        told.set(file, { measures, odd: [...before, odd] });
      }
    }
  }
  return told;
}
