/**
 * Reads a folder the other way round: groups file names into sequences by what stands before and
 * after the number. Mixed widths (`side_9`, `side_010`) are one sequence; one number written twice
 * (`side_009`, `side_9`) is a double.
 */
import { difference, type FrameSet, MAX_FRAME_NUMBER, rangeSet, setOf } from "../frames/frame-set";

export interface FolderEntry {
  /** Without its folder. */
  readonly name: string;
  readonly bytes: number;
  /** Milliseconds since 1970; left out where nobody asked. */
  readonly modifiedMs?: number;
}

export interface FoundFrame extends FolderEntry {
  /** The number in its name. */
  readonly frame: number;
  /** Digits of the number as it is written. */
  readonly width: number;
}

export interface FoundSequence {
  /** The name with # for each digit of the usual width. */
  readonly name: string;
  /** What stands before the number, in every file. */
  readonly prefix: string;
  /** What stands behind it. */
  readonly suffix: string;
  /** By number. */
  readonly files: readonly FoundFrame[];
  readonly frames: FrameSet;
  /** Numbers between first and last that have no file. */
  readonly missing: FrameSet;
  /** Numbers of digits that occur, ascending. */
  readonly widths: readonly number[];
  /** Numbers that several files have. */
  readonly doubles: readonly { readonly frame: number; readonly files: readonly string[] }[];
  readonly bytes: number;
}

export interface FolderGroups {
  readonly sequences: readonly FoundSequence[];
  /** Files without a number, or with one that no frame can have. */
  readonly others: readonly string[];
  /** Temporary files of attempts that did not end. */
  readonly leftovers: readonly string[];
}

/** Names that pictures end in, also of kinds that are not checked. */
const PICTURE = /\.(png|tiff?|btf|exr|jpe?g|jpe|jfif|jp2|bmp|dib|tga|dpx|cin|hdr|rgbe|webp|avif)$/i;
/** A temporary name: an attempt that did not end. */
const LEFTOVER = /^(.+)\.part\d{1,15}$/;
/** What services that share folders make of two versions of a file. */
const CONFLICTED = /conflicted copy/i;
/** Last digit group of the stem. A minus counts as sign only after a separator or at the start. */
const NUMBER = /^(.*?)((?:(?<=^|[._ ])-)?\d+)(\D*)$/;

/** By its ending: what the tally may take for a frame. */
export const isPictureName = (name: string): boolean => PICTURE.test(name);
/** A temporary file that something left behind. */
export const isLeftoverName = (name: string): boolean => LEFTOVER.test(name);

/** What a temporary file was going to be, and whose it is by its own word; null for any other name. */
export function temporaryName(name: string): { readonly final: string; readonly by: number } | null {
  const found = LEFTOVER.exec(name);
  return found === null ? null : { final: found[1]!, by: Number(/\d+$/.exec(name)![0]) };
}

/** Splits a picture's name at its frame number, or null when it has none that a frame could have. */
export function splitName(
  name: string,
): { prefix: string; frame: number; width: number; suffix: string } | null {
  const dot = name.lastIndexOf(".");
  const match = NUMBER.exec(name.slice(0, dot));
  if (match === null) return null;
  const [, prefix = "", number = "", tail = ""] = match;
  // A date and the like: no frame, and no number that a set or a column could hold.
  if (Math.abs(Number(number)) > MAX_FRAME_NUMBER) return null;
  return {
    prefix,
    frame: Number(number),
    width: number.replace("-", "").length,
    suffix: tail + name.slice(dot),
  };
}

/** A group of files that differ in their number alone. */
function describe(prefix: string, suffix: string, files: FoundFrame[]): FoundSequence {
  files.sort((a, b) => a.frame - b.frame || b.width - a.width);
  const usual = new Map<number, number>();
  const byFrame = new Map<number, string[]>();
  for (const file of files) {
    usual.set(file.width, (usual.get(file.width) ?? 0) + 1);
    byFrame.set(file.frame, [...(byFrame.get(file.frame) ?? []), file.name]);
  }
  const width = [...usual].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]![0];
  const frames = setOf(byFrame.keys());
  return {
    name: prefix + "#".repeat(width) + suffix,
    prefix,
    suffix,
    files,
    frames,
    missing: difference(rangeSet(files[0]!.frame, files.at(-1)!.frame), frames),
    widths: [...usual.keys()].sort((a, b) => a - b),
    doubles: [...byFrame]
      .filter(([, names]) => names.length > 1)
      .map(([frame, names]) => ({ frame, files: names })),
    bytes: files.reduce((sum, file) => sum + file.bytes, 0),
  };
}

/** Sequences, other files and leftovers of one folder. Names are taken as they are: nothing is opened. */
export function groupFiles(entries: readonly FolderEntry[]): FolderGroups {
  const groups = new Map<string, { prefix: string; suffix: string; files: FoundFrame[] }>();
  const others: string[] = [];
  const leftovers: string[] = [];
  for (const entry of entries) {
    const split = isPictureName(entry.name) && !CONFLICTED.test(entry.name) ? splitName(entry.name) : null;
    if (isLeftoverName(entry.name)) leftovers.push(entry.name);
    else if (split === null) others.push(entry.name);
    else {
      const key = JSON.stringify([split.prefix, split.suffix]);
      const group = groups.get(key) ?? { prefix: split.prefix, suffix: split.suffix, files: [] };
      group.files.push({ ...entry, frame: split.frame, width: split.width });
      groups.set(key, group);
    }
  }
  const sequences = [...groups.values()]
    .map((g) => describe(g.prefix, g.suffix, g.files))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  return { sequences, others: others.sort(), leftovers: leftovers.sort() };
}
