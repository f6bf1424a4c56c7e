/**
 * A pattern for lines of another program's log, with named groups for what is read out of a line. Matched by an engine
 * of linear time: a pattern may come from anybody, and lines from anywhere.
 */
import { RE2JS } from "re2js";
import { MAX_FRAME_NUMBER } from "../frames/frame-set";

/** Names that a pattern may use; what else it names is of no use here, and told. */
export const LOG_GROUPS = ["frame", "node", "seconds", "message"] as const;
export type LogGroup = (typeof LOG_GROUPS)[number];

/** Characters: a longer one is no pattern that anybody wrote. */
export const LONGEST_PATTERN = 500;
/** Of a line that is looked at; what stands behind is of no use to a person either. */
export const LONGEST_LOG_LINE = 4_000;
/** Of a node's name, and of a message. */
const LONGEST_NODE = 64,
  LONGEST_MESSAGE = 500;

export interface LogSpan {
  readonly group: LogGroup;
  /** In the line; the end is exclusive. */
  readonly from: number;
  readonly to: number;
}

/** What a line says. */
export interface LogLine {
  readonly frame: number;
  /** Null where it says nothing of it, and so below. */
  readonly node: string | null;
  readonly seconds: number | null;
  readonly message: string | null;
  /** Where each stands, for whoever tries the pattern out. */
  readonly spans: readonly LogSpan[];
}

export interface LogPattern {
  readonly source: string;
  /** Null for a line that the pattern does not match, or whose frame is none. */
  readonly read: (line: string) => LogLine | null;
}

export type LogPatternResult =
  { readonly ok: true; readonly pattern: LogPattern } | { readonly ok: false; readonly fault: string };

/** 41.3, 41,3, 0:41, 1:02:03.5 as seconds; null for what is no time. */
export function readSeconds(text: string): number | null {
  const parts = text.trim().replace(",", ".").split(":");
  if (parts.length > 3 || !parts.every((part) => /^\d+(\.\d+)?$/.test(part))) return null;
  const seconds = parts.reduce((sum, part) => sum * 60 + Number(part), 0);
  return Number.isFinite(seconds) ? seconds : null;
}

function readFrame(text: string): number | null {
  const frame = /^-?\d+$/.test(text) ? Number(text) : NaN;
  return Math.abs(frame) <= MAX_FRAME_NUMBER ? frame : null;
}

/** A text, or null where nothing is left of it. */
const shortened = (text: string | null, longest: number): string | null => {
  const short = text === null ? "" : text.trim().slice(0, longest);
  return short === "" ? null : short;
};

/** Reads a pattern, or says what is wrong with it. */
export function compileLogPattern(source: string): LogPatternResult {
  if (source.trim() === "") return { ok: false, fault: "Write a pattern, or choose a shape of lines." };
  if (source.length > LONGEST_PATTERN)
    return { ok: false, fault: `A pattern has ${LONGEST_PATTERN} characters at most.` };
  let compiled: RE2JS;
  try {
    compiled = RE2JS.compile(source);
  } catch (error) {
    return { ok: false, fault: `The pattern cannot be read: ${(error as Error).message}.` };
  }
  const named = Object.keys(compiled.namedGroups());
  if (!named.includes("frame"))
    return { ok: false, fault: "The pattern names no frame: write (?P<frame>\\d+) where its number stands." };
  const unknown = named.find((name) => !(LOG_GROUPS as readonly string[]).includes(name));
  if (unknown !== undefined)
    return {
      ok: false,
      fault: `Nothing is read from a group "${unknown}"; there are ${LOG_GROUPS.join(", ")}.`,
    };
  const groups = LOG_GROUPS.filter((name) => named.includes(name));
  const read = (whole: string): LogLine | null => {
    const line = whole.slice(0, LONGEST_LOG_LINE);
    const matcher = compiled.matcher(line);
    if (!matcher.find()) return null;
    const spans = groups.flatMap((group) => {
      const [from, to] = [matcher.start(group), matcher.end(group)];
      return from < 0 || to <= from ? [] : [{ group, from, to }];
    });
    const text = (group: LogGroup): string | null => {
      const span = spans.find((s) => s.group === group);
      return span === undefined ? null : line.slice(span.from, span.to);
    };
    const frame = readFrame(text("frame") ?? "");
    if (frame === null) return null;
    const seconds = text("seconds");
    return {
      frame,
      node: shortened(text("node"), LONGEST_NODE),
      seconds: seconds === null ? null : readSeconds(seconds),
      message: shortened(text("message"), LONGEST_MESSAGE),
      spans,
    };
  };
  return { ok: true, pattern: { source, read } };
}

/** A common shape of lines, named by what it looks like. */
export interface LogShape {
  readonly name: string;
  readonly source: string;
}

export const LOG_SHAPES: readonly LogShape[] = [
  {
    name: "frame 57 … 41.3 s",
    source:
      "(?i)\\bframe\\s*[:=#]?\\s*(?P<frame>-?\\d+)\\b.*?(?P<seconds>\\d+(?:[.,]\\d+)?)\\s*s(?:ec(?:onds?)?)?\\b",
  },
  {
    name: "[node] … frame 57 … 0:41",
    source:
      "(?i)\\[(?P<node>[\\w.-]+)\\].*?\\bframe\\s*[:=#]?\\s*(?P<frame>-?\\d+)\\b(?:.*?(?P<seconds>\\d+:\\d\\d(?::\\d\\d)?(?:\\.\\d+)?))?",
  },
  {
    name: "frame=57 node=barge seconds=41.3",
    source:
      "\\bframe=(?P<frame>-?\\d+)\\b(?:.*?\\b(?:node|host)=(?P<node>[\\w.-]+))?(?:.*?\\b(?:seconds|time)=(?P<seconds>[\\d.:]+))?",
  },
  {
    name: "name.0057.png … 41.3 s",
    source:
      "(?i)(?P<frame>\\d+)\\.(?:png|exr|tiff?|jpe?g|dpx|webp|bmp|tga|hdr)\\b(?:.*?(?P<seconds>\\d+(?:[.,]\\d+)?)\\s*s\\b)?",
  },
  {
    name: "warning … frame 57: what is the matter",
    source:
      "(?i)\\b(?:warning|error)\\b.*?\\bframe\\s*[:=#]?\\s*(?P<frame>-?\\d+)\\b[\\s:.-]*(?P<message>.*)$",
  },
];
