/**
 * The frame phrase, the small language for sets of frames:
 *
 *     phrase := term ("," term)*
 *     term   := ["!"] set ("&" set)*
 *     set    := number | number "-" number [ "/" step ] | name
 *
 * Terms add up from left to right, `!` takes away, `&` keeps what is in both, blanks are free. A first term that takes away
 * takes from nothing. Names mean something only beside a shot: the caller gives their meaning.
 * Expected mistakes are values (PhraseError with the column, 1-based), never exceptions.
 */
import {
  type FrameSet,
  type Run,
  difference,
  EMPTY,
  intersection,
  MAX_FRAME_NUMBER,
  rangeSet,
  runCount,
  unionAll,
  union,
} from "./frame-set";
import { PhraseWriter } from "./phrase-writer";
import { FrameSetTooFragmented } from "./run-builder";

export interface PhraseError {
  /** What is wrong, for tests and programs. */
  readonly code:
    | "phrase-empty"
    | "phrase-syntax"
    | "phrase-backwards"
    | "phrase-step"
    | "phrase-number"
    | "phrase-name"
    | "frame-set-too-fragmented";
  /** 1-based column of the term's first character that matters. */
  readonly column: number;
  /** With the column, and how to write it instead. */
  readonly message: string;
}

/** The set, or the first thing that is wrong. */
export type PhraseResult =
  { readonly ok: true; readonly set: FrameSet } | { readonly ok: false; readonly error: PhraseError };

/** Gives the frames a name stands for, or null for an unknown name. `argument` is the text in brackets. */
export type NameResolver = (name: string, argument: string | null) => FrameSet | null;

/** Blanks are free around its signs; the parts share no sign, so that the time is linear. */
const RANGE = /^(-?\d+)\s*-\s*(-?\d+)(?:\s*\/\s*(-?\d+))?$/;
const NUMBER = /^-?\d+$/;
// What is in brackets is trimmed apart: blanks that two parts of a pattern could take are tried in every split.
const NAME = /^([a-z][a-z-]*)\s*(?:\(([^()]*)\))?$/i;

/** A piece between commas, or between the `&` of one. */
interface Term {
  readonly text: string;
  /** Of its first sign in the whole phrase, from 1. */
  readonly column: number;
}

/**
 * Splits outside brackets, keeping the column of each piece.
 * @param before signs of the whole phrase before this part of it
 */
function splitAt(separator: "," | "&", phrase: string, before = 0): Term[] {
  const terms: Term[] = [];
  let depth = 0;
  let start = 0;
  for (let i = 0; i <= phrase.length; i++) {
    const c = phrase[i];
    if (c === "(") depth++;
    else if (c === ")") depth = Math.max(0, depth - 1);
    else if (c === undefined || (c === separator && depth === 0)) {
      const raw = phrase.slice(start, i);
      const lead = raw.length - raw.trimStart().length;
      terms.push({ text: raw.trim(), column: before + start + lead + 1 });
      start = i + 1;
    }
  }
  return terms;
}

const fail = (code: PhraseError["code"], column: number, message: string): PhraseError => ({
  code,
  column,
  message: `column ${column}: ${message}`,
});

/** What stands in one line beside other words. */
const LONGEST_IN_A_LINE = 80;
/** A phrase cut where it gets too long for a line: a torn set has thousands of runs. */
export const shorten = (phrase: string): string =>
  phrase.length <= LONGEST_IN_A_LINE ? phrase : `${phrase.slice(0, LONGEST_IN_A_LINE)} …`;
/** What was written, as far as it fits a message. */
const quoted = (text: string): string => `"${shorten(text)}"`;

/** Beyond this, sums of frame numbers would no longer be exact. */
const tooLarge = (value: number): boolean =>
  !Number.isSafeInteger(value) || Math.abs(value) > MAX_FRAME_NUMBER;

/** First, last and step as somebody wrote them: of 0-50/4 the last is 50, though no frame has that number. */
export interface WrittenRange {
  readonly first: number;
  readonly last: number;
  readonly step: number;
}

/** The range that a phrase is, where it is one and nothing else; null otherwise. */
export function writtenRange(phrase: string): WrittenRange | null {
  const range = RANGE.exec(phrase.trim());
  if (range === null || !parsePhrase(phrase).ok) return null;
  return { first: Number(range[1]), last: Number(range[2]), step: Number(range[3] ?? 1) };
}

/** As a phrase that keeps the range beside its step. */
export const rangePhrase = ({ first, last, step }: WrittenRange): string =>
  `${first}-${last}${step === 1 ? "" : `/${step}`}`;

/** One set: a number, a range, or a name. */
function readSet(text: string, column: number, resolve: NameResolver | null): FrameSet | PhraseError {
  if (NUMBER.test(text)) {
    const frame = Number(text);
    if (tooLarge(frame))
      return fail(
        "phrase-number",
        column,
        `${quoted(text)} is too large for a frame number; the limit is ${MAX_FRAME_NUMBER}`,
      );
    return rangeSet(frame, frame);
  }
  const range = RANGE.exec(text);
  if (range !== null) {
    const [, firstText, lastText, stepText] = range;
    const first = Number(firstText);
    const last = Number(lastText);
    if (tooLarge(first) || tooLarge(last))
      return fail(
        "phrase-number",
        column,
        `${quoted(text)} has a number that is too large for a frame; the limit is ${MAX_FRAME_NUMBER}`,
      );
    if (first > last)
      return fail(
        "phrase-backwards",
        column,
        `${quoted(text)} runs backwards; write ${lastText}-${firstText}${stepText === undefined ? "" : `/${stepText}`}`,
      );
    const step = stepText === undefined ? 1 : Number(stepText);
    if (step < 1 || tooLarge(step))
      return fail("phrase-step", column, `the step in ${quoted(text)} must be a whole number from 1 up`);
    return rangeSet(first, last, step);
  }
  const name = NAME.exec(text);
  if (name !== null) {
    if (resolve === null)
      return fail(
        "phrase-name",
        column,
        `${quoted(text)} is a name, and a name needs a shot to look in; write numbers here`,
      );
    const set = resolve(name[1]!.toLowerCase(), name[2]?.trim() ?? null);
    if (set === null)
      return fail("phrase-name", column, `${quoted(text)} is not a name that this shot knows`);
    return set;
  }
  return fail(
    "phrase-syntax",
    column,
    `${quoted(text)} is not a frame, a range such as 1-96 or 1-96/2, or a name`,
  );
}

/** Of one term without its `!`: what is in all of its sets. */
function readTerm(text: string, column: number, resolve: NameResolver | null): FrameSet | PhraseError {
  let common: FrameSet | null = null;
  for (const part of splitAt("&", text, column - 1)) {
    if (part.text === "") return fail("phrase-syntax", part.column, "a set is missing beside the &");
    const read = readSet(part.text, part.column, resolve);
    if ("code" in read) return read;
    common = common === null ? read : intersection(common, read);
  }
  return common ?? EMPTY;
}

/** Reads a phrase. Neighbouring terms of one kind are joined in one go, so long phrases stay cheap. */
export function parsePhrase(phrase: string, resolve: NameResolver | null = null): PhraseResult {
  if (phrase.trim() === "")
    return { ok: false, error: fail("phrase-empty", 1, "the phrase is empty; write frames such as 1-96") };
  let set = EMPTY;
  let pending: FrameSet[] = [];
  let pendingTakes = false;
  let column = 1;
  const settle = (): void => {
    const batch = unionAll(pending);
    set = pendingTakes ? difference(set, batch) : union(set, batch);
    pending = [];
  };
  try {
    for (const term of splitAt(",", phrase)) {
      column = term.column;
      if (term.text === "")
        return {
          ok: false,
          error: fail("phrase-syntax", column, "a term is missing between two commas or at an end"),
        };
      const takes = term.text.startsWith("!");
      const body = takes ? term.text.slice(1).trimStart() : term.text;
      const read = readTerm(body, column + (term.text.length - body.length), resolve);
      if ("code" in read) return { ok: false, error: read };
      if (takes !== pendingTakes) {
        settle();
        pendingTakes = takes;
      }
      pending.push(read);
    }
    settle();
  } catch (error) {
    if (error instanceof FrameSetTooFragmented)
      return { ok: false, error: fail(error.code, column, error.message) };
    throw error;
  }
  return { ok: true, set };
}

/**
 * What each adding term of a phrase stands for, in the order in which they were written. Terms that cannot be
 * read are left out.
 */
export function phraseTerms(phrase: string, resolve: NameResolver | null = null): FrameSet[] {
  return splitAt(",", phrase).flatMap(({ text, column }) => {
    if (text === "" || text.startsWith("!")) return [];
    const read = readTerm(text, column, resolve);
    return "code" in read ? [] : [read];
  });
}

/**
 * A step is written only where it makes the phrase shorter; a tie goes to plain numbers. A series of nine
 * frames and more is always shorter with a step, whatever its digits.
 */
const SURELY_SHORTER = 9;

/** Whether a run takes fewer signs as a range than written out. */
function isShorterWithStep(run: Run): boolean {
  const count = runCount(run);
  if (count >= SURELY_SHORTER) return true;
  const list = Array.from({ length: count }, (_, i) => run.first + i * run.step).join(",");
  return `${run.first}-${run.last}/${run.step}`.length < list.length;
}

/**
 * Writes a set with plain numbers only: ascending, runs merged. Two neighbours are written `4-5`, as a range.
 */
export function formatPhrase(set: FrameSet): string {
  const writer = new PhraseWriter();
  for (const run of set.runs) {
    if (run.step === 1 || isShorterWithStep(run)) writer.run(run.first, run.last, run.step);
    else for (let frame = run.first; frame <= run.last; frame += run.step) writer.run(frame, frame, 1);
  }
  return writer.text();
}
