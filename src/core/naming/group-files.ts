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
const PICTURES: ReadonlySet<string> = new Set(
  "png tif tiff btf exr jpg jpeg jpe jfif jp2 bmp dib tga dpx cin hdr rgbe webp avif".split(" "),
);
/** The longest of them, with some to spare: of a longer ending no small letters are made. */
const LONGEST_ENDING = 8;
/** A temporary name: an attempt that did not end. */
const LEFTOVER = /^(.+)\.part\d{1,15}$/;
/** What services that share folders make of two versions of a file. */
const CONFLICTED = /conflicted copy/i;
/** What may stand before a minus that is a sign. */
const SEPARATORS = "._ ";
/** A name of several lines is none that anybody gave. */
const LINE_BREAK = /[\n\r\u2028\u2029]/;

/** By its ending: what the tally may take for a frame. */
export function isPictureName(name: string): boolean {
  const dot = name.lastIndexOf(".");
  return dot >= 0 && name.length - dot <= LONGEST_ENDING && PICTURES.has(name.slice(dot + 1).toLowerCase());
}
/** A temporary file that something left behind. */
export const isLeftoverName = (name: string): boolean => name.includes(".part") && LEFTOVER.test(name);
const isConflicted = (name: string): boolean => name.includes(" ") && CONFLICTED.test(name);

/** What a temporary file was going to be, and whose it is by its own word; null for any other name. */
export function temporaryName(name: string): { readonly final: string; readonly by: number } | null {
  const found = LEFTOVER.exec(name);
  return found === null ? null : { final: found[1]!, by: Number(/\d+$/.exec(name)![0]) };
}

const isDigit = (name: string, at: number): boolean => {
  const code = name.charCodeAt(at);
  return code >= 48 && code <= 57;
};

/**
 * Splits a picture's name at its frame number, the last digits before its ending, or null when it has none that a frame
 * could have. A minus is a sign only after a separator or at the start. (Letter by letter: a pattern costs four times as
 * much, and there are folders of a million names.)
 */
export function splitName(
  name: string,
): { prefix: string; frame: number; width: number; suffix: string } | null {
  let end = name.lastIndexOf(".");
  while (end > 0 && !isDigit(name, end - 1)) end--;
  if (end <= 0 || LINE_BREAK.test(name)) return null;
  let from = end - 1;
  while (from > 0 && isDigit(name, from - 1)) from--;
  const digits = end - from;
  const isNegative =
    from > 0 && name[from - 1] === "-" && (from === 1 || SEPARATORS.includes(name[from - 2]!));
  const number = Number(name.slice(from, end));
  // A date and the like: no frame, and no number that a set or a column could hold.
  if (number > MAX_FRAME_NUMBER) return null;
  const start = isNegative ? from - 1 : from;
  return {
    prefix: name.slice(0, start),
    frame: isNegative ? -number : number,
    width: digits,
    suffix: name.slice(end),
  };
}

interface Group {
  readonly prefix: string;
  readonly suffix: string;
  readonly files: FoundFrame[];
}

/**
 * The number of a name that goes on with the group of the one before, and its digits; -1 for any other. Listings mostly
 * come in order, and to see that a name is like the last one costs a third of taking it apart.
 */
function nextInGroup(name: string, { prefix, suffix }: Group): number {
  const end = name.length - suffix.length;
  const from = prefix.length;
  // Of longer numbers it is asked whether any frame can have them.
  if (end <= from || end - from > 9 || !name.endsWith(suffix) || !name.startsWith(prefix)) return -1;
  let number = 0;
  for (let at = from; at < end; at++) {
    const digit = name.charCodeAt(at) - 48;
    if (digit < 0 || digit > 9) return -1;
    number = number * 10 + digit;
  }
  return number;
}

/** A group of files that differ in their number alone. */
function describe(prefix: string, suffix: string, files: FoundFrame[]): FoundSequence {
  // Most listings are in order already.
  const isSorted = files.every((file, i) => i === 0 || files[i - 1]!.frame < file.frame);
  if (!isSorted) files.sort((a, b) => a.frame - b.frame || b.width - a.width);
  const usual = new Map<number, number>();
  const twice = new Map<number, string[]>();
  files.forEach((file, i) => {
    usual.set(file.width, (usual.get(file.width) ?? 0) + 1);
    const before = files[i - 1];
    if (before?.frame !== file.frame) return;
    const names = twice.get(file.frame);
    if (names === undefined) twice.set(file.frame, [before.name, file.name]);
    else names.push(file.name);
  });
  const width = [...usual].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]![0];
  const frames = setOf(files.map((file) => file.frame));
  return {
    name: prefix + "#".repeat(width) + suffix,
    prefix,
    suffix,
    files,
    frames,
    missing: difference(rangeSet(files[0]!.frame, files.at(-1)!.frame), frames),
    widths: [...usual.keys()].sort((a, b) => a - b),
    doubles: [...twice].map(([frame, names]) => ({ frame, files: names })),
    bytes: files.reduce((sum, file) => sum + file.bytes, 0),
  };
}

/** Sequences, other files and leftovers of one folder. Names are taken as they are: nothing is opened. */
export function groupFiles(entries: readonly FolderEntry[]): FolderGroups {
  const groups: Group[] = [];
  /** Their files by prefix and then by suffix. */
  const known = new Map<string, Map<string, FoundFrame[]>>();
  const others: string[] = [];
  const leftovers: string[] = [];
  const filesOf = (prefix: string, suffix: string): FoundFrame[] => {
    const bySuffix = known.get(prefix) ?? new Map<string, FoundFrame[]>();
    if (bySuffix.size === 0) known.set(prefix, bySuffix);
    const there = bySuffix.get(suffix);
    if (there !== undefined) return there;
    const files: FoundFrame[] = [];
    bySuffix.set(suffix, files);
    groups.push({ prefix, suffix, files });
    return files;
  };
  let last: Group | null = null;
  for (const entry of entries) {
    const { name, bytes, modifiedMs } = entry;
    const next = last === null ? -1 : nextInGroup(name, last);
    if (next >= 0) {
      const width = name.length - last!.prefix.length - last!.suffix.length;
      last!.files.push(
        modifiedMs === undefined
          ? { name, bytes, frame: next, width }
          : { name, bytes, modifiedMs, frame: next, width },
      );
      continue;
    }
    const split = isPictureName(name) && !isConflicted(name) ? splitName(name) : null;
    if (isLeftoverName(name)) leftovers.push(name);
    else if (split === null) others.push(name);
    else {
      const { frame, width, prefix, suffix } = split;
      const files = filesOf(prefix, suffix);
      // A minus at its end may be the sign of the next number.
      last = prefix.endsWith("-") ? null : { prefix, suffix, files };
      files.push(
        modifiedMs === undefined ? { name, bytes, frame, width } : { name, bytes, modifiedMs, frame, width },
      );
    }
  }
  const sequences = groups
    .map((g) => describe(g.prefix, g.suffix, g.files))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  return { sequences, others: others.sort(), leftovers: leftovers.sort() };
}
