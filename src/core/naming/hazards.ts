/**
 * What can go wrong with a name later: in sorting, in reading the number back, on another system.
 * Hazards are data; the wording and the mend button live in the interface.
 */
import { addAll, largest, least } from "../many";
import { type NamePattern, fileName, type NameValues } from "./pattern";

export type NameHazard =
  | {
      readonly code: "too-few-digits";
      readonly digits: number;
      readonly needed: number;
      /** A pattern with #### or %04d says its digits itself, so both are given. */ readonly mend: {
        readonly digits: number;
        readonly pattern: string;
      };
    }
  | { readonly code: "digit-before-number"; readonly mend: { readonly pattern: string } }
  | {
      readonly code: "forbidden-characters";
      readonly characters: string;
      readonly mend: { readonly pattern: string };
    }
  | { readonly code: "name-too-long"; readonly length: number; readonly limit: number }
  /**
   * Two sequences of the plan give one name; each lies in its own folder, until somebody puts them together.
   */
  | {
      readonly code: "same-name";
      readonly token: "camera" | "pass";
      readonly what: string;
      readonly mend: { readonly pattern: string };
    }
  | { readonly code: "differs-in-case" }
  /** @see FIRST_NUMBER */
  | { readonly code: "negative-numbers"; readonly first: number; readonly mend: { readonly offset: number } };

/** Where numbering usually starts: room for a thousand handles before it. */
const FIRST_NUMBER = 1001;

/** 255 bytes is the limit of the common file systems; room is kept for the temporary ending. */
export const LONGEST_FILE_NAME = 200;

/** Refused by one of the systems that a shared folder meets: < > : " | ? * and control characters. */
const FORBIDDEN = /[<>:"|?*\u0000-\u001f]/g;

/** Wherever the number stands in a pattern, in any of the three ways of writing it. */
const FRAME_TOKEN = /\{frame\}|#+|%0?\d*d/;

/** Hazards of a pattern for frames first..last.
 * @param source    the pattern as written, for the mends
 * @param sequences what names each sequence of the plan; at least one
 */
export function nameHazards(
  source: string,
  pattern: NamePattern,
  sequences: readonly NameValues[],
  extension: string,
  first: number,
  last: number,
): NameHazard[] {
  const hazards: NameHazard[] = [];
  const values = sequences[0]!;
  const lengths = [String(Math.abs(first)).length, String(Math.abs(last)).length];
  const needed = largest(lengths);
  // Between a negative and a positive number lies one of a single digit.
  const shortest = first <= 0 && last >= 0 ? 1 : least(lengths);
  // Where all numbers have as many digits as the longest, no padding is needed to keep their order.
  if (Math.max(pattern.digits, shortest) < needed)
    hazards.push({
      code: "too-few-digits",
      digits: pattern.digits,
      needed,
      mend: { digits: needed, pattern: source.replace(/#+|%0?\d*d/, "#".repeat(needed)) },
    });
  const frameAt = pattern.parts.findIndex((part) => part.kind === "token" && part.token === "frame");
  const before = pattern.parts
    .slice(0, frameAt)
    .map((part) => (part.kind === "text" ? part.text : part.token === "frame" ? "" : values[part.token]))
    .join("");
  if (/\d$/.test(before))
    hazards.push({
      code: "digit-before-number",
      mend: { pattern: source.replace(FRAME_TOKEN, (token) => `.${token}`) },
    });
  const name = fileName(pattern, values, last, extension);
  const characters = [...new Set(name.match(FORBIDDEN) ?? [])].join(" ");
  if (characters !== "")
    hazards.push({
      code: "forbidden-characters",
      characters,
      mend: { pattern: source.replace(FORBIDDEN, "_") },
    });
  const length = new TextEncoder().encode(name).length;
  if (length > LONGEST_FILE_NAME) hazards.push({ code: "name-too-long", length, limit: LONGEST_FILE_NAME });
  if (first < 0) hazards.push({ code: "negative-numbers", first, mend: { offset: FIRST_NUMBER - first } });
  addAll(hazards, sharedNames(source, pattern, sequences, extension, first));
  return hazards;
}

/** Names that several sequences would have in common. */
function sharedNames(
  source: string,
  pattern: NamePattern,
  sequences: readonly NameValues[],
  extension: string,
  frame: number,
): NameHazard[] {
  const hazards: NameHazard[] = [];
  const count = (values: readonly string[]): number => new Set(values).size;
  for (const token of ["pass", "camera"] as const) {
    const isNamed = pattern.parts.some((part) => part.kind === "token" && part.token === token);
    const values = sequences.map((s) => s[token]);
    if (!isNamed && count(values) > 1)
      hazards.push({
        code: "same-name",
        token,
        what: `${token === "pass" ? "Passes" : "Cameras"} ${[...new Set(values)].join(", ")}`,
        mend: { pattern: withToken(source, token) },
      });
  }
  const names = sequences.map((s) => fileName(pattern, s, frame, extension));
  if (count(names.map((name) => name.toLowerCase())) < count(names))
    hazards.push({ code: "differs-in-case" });
  return hazards;
}

/** The pattern with a token more, before the number and its separator. */
const withToken = (source: string, token: "pass" | "camera"): string =>
  source.trim() === ""
    ? `{${token}}.{frame}`
    : source
        .replace(
          /([._-]?)(\{frame\}|#+|%0?\d*d)/,
          (_all, separator: string, frame: string) =>
            `_{${token}}${separator === "" ? "." : separator}${frame}`,
        )
        .replace(/^_/, "");
