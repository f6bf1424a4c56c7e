/** Lists of the files of a handover, for other programs: a path a line, and sums to check copies by. */

import { setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";

/** A path a line. */
export const pathList = (paths: readonly string[]): string => paths.map((path) => `${path}\n`).join("");

/** As ffmpeg's list files quote: inside, a quote ends the text, stands alone behind a backslash, and begins it again. */
const quoted = (path: string): string => `'${path.replaceAll("'", "'\\''")}'`;

/**
 * For ffmpeg's reader of lists: each file with how long it is shown. The last one is named twice, or it would be shown
 * for no time.
 * @param secondsEach of one picture
 */
export function concatList(paths: readonly string[], secondsEach: number): string {
  const last = paths.at(-1);
  return [
    "ffconcat version 1.0",
    ...paths.flatMap((path) => [`file ${quoted(path)}`, `duration ${secondsEach.toFixed(9)}`]),
    ...(last === undefined ? [] : [`file ${quoted(last)}`]),
    "",
  ].join("\n");
}

/** A frame that has to be made again. */
export interface PatchLine {
  readonly frame: number;
  readonly result: string;
  /** What is open against it. */
  readonly findings: readonly string[];
}

/** All of them as one phrase, for a field or a command, and then each with why. Nothing to patch is nothing at all. */
export const patchList = (lines: readonly PatchLine[]): string =>
  lines.length === 0
    ? ""
    : [
        formatPhrase(setOf(lines.map(({ frame }) => frame))),
        ...lines.map(({ frame, result, findings }) =>
          [
            frame,
            result,
            ...(findings.length === 0 ? [] : [findings.join("; ").replaceAll(/\s+/g, " ")]),
          ].join(" "),
        ),
        "",
      ].join("\n");

export interface SummedFile {
  /** Relative to the folder that the sums are checked in. */
  readonly name: string;
  /** SHA-256, hexadecimal. */
  readonly sum: string;
}

/** As `sha256sum -c` reads it: a name with a backslash or a line's end is escaped, and its line begins with one. */
export const sumsList = (files: readonly SummedFile[]): string =>
  files
    .map(({ name, sum }) => {
      const escaped = name.replaceAll("\\", "\\\\").replaceAll("\n", "\\n");
      return `${escaped === name ? "" : "\\"}${sum}  ${escaped}\n`;
    })
    .join("");
