/** Names of copied frames: numbered from elsewhere, with other digits or another name. */
import { padFrame } from "../naming/pattern";
import type { CopyFormat } from "./wish";

export interface NumberedName {
  readonly prefix: string;
  readonly digits: number;
  /** With the ending. */
  readonly suffix: string;
}

/** Takes a name apart at its frame's number; null where it does not hold it. The last place counts: versions come before. */
export function numberInName(name: string, frame: number): NumberedName | null {
  let found: NumberedName | null = null;
  for (const match of name.matchAll(/\d+/g)) {
    if (Number(match[0]) !== Math.abs(frame)) continue;
    const isNegative = frame < 0;
    if (isNegative && name[match.index - 1] !== "-") continue;
    const at = isNegative ? match.index - 1 : match.index;
    found = {
      prefix: name.slice(0, at),
      digits: match[0].length,
      suffix: name.slice(match.index + match[0].length),
    };
  }
  return found;
}

const ENDING: Readonly<Record<Exclude<CopyFormat, "same">, string>> = { png8: ".png", jpeg: ".jpg" };

export interface CopyNaming {
  readonly format: CopyFormat;
  /** Number of the first; null: numbers stay. */
  readonly from: number | null;
  /** Null: as many as the names have. */
  readonly digits: number | null;
  /** What stands before the number; blank: as it is. */
  readonly name: string;
}

/**
 * @param index of the copy, from 0
 * @param source name of the file that is copied, or that would be there
 * @param sourceFrame the number that it bears; @param frame the number that the copy stands for
 */
export function copyName(
  { format, from, digits, name }: CopyNaming,
  source: string,
  sourceFrame: number,
  frame: number,
  index: number,
): string {
  const parts = numberInName(source, sourceFrame) ?? { prefix: `${source}.`, digits: 4, suffix: "" };
  const suffix = format === "same" ? parts.suffix : parts.suffix.replace(/(\.[^.]*)?$/, ENDING[format]);
  const number = from === null ? frame : from + index;
  return `${name === "" ? parts.prefix : `${name}.`}${padFrame(number, digits ?? parts.digits)}${suffix}`;
}
