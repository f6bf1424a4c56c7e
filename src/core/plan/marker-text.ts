/**
 * Markers as people write them: `name first-last`, one a line, both ends inclusive, in scene frames; and as a table
 * `name,first,last`, as spreadsheets and other programs hand them over. A text may hold both.
 */
import Papa from "papaparse";
import { shotFault } from "./shot";
import type { Marker } from "./notes";

export interface MarkerFault {
  /** Of the text, from 1. */
  readonly line: number;
  readonly message: string;
}

export interface ReadMarkers {
  readonly markers: readonly Marker[];
  readonly wrong: readonly MarkerFault[];
}

/** The frames at the end of a line; a name may hold blanks and dashes. */
const LINE = /^(.*\S)\s+(-?\d{1,9})(?:\s*(?:-|–|to)\s*(-?\d{1,9}))?$/;
/** First line of a table. */
const HEAD = /^"?name"?\s*[,;\t]/i;
const FRAME = /^-?\d{1,9}$/;

/** A line of a table; null where it is none. */
function readCells(line: string): readonly [name: string, first: string, last: string] | null {
  const [cells] = Papa.parse<string[]>(line).data;
  if (cells === undefined || cells.length < 2) return null;
  const [name = "", first = "", last = ""] = cells.map((cell) => cell.trim());
  return [name, first, last === "" ? first : last];
}

function readLine(line: string): Marker | string {
  const cells = readCells(line);
  const [, name, first, last] = cells === null ? (LINE.exec(line) ?? []) : ["", ...cells];
  if (name === undefined || first === undefined)
    return `"${line}" is not a name and its frames: dusk 90-120.`;
  const end = last ?? first;
  if (!FRAME.test(first) || !FRAME.test(end)) return `"${first}" to "${end}" are no frames.`;
  return { name, first: Number(first), end: Number(end) + 1 };
}

/** Reads what can be read, and tells of each other line why it cannot. Blank lines are free. */
export function readMarkers(text: string): ReadMarkers {
  const markers: Marker[] = [];
  const wrong: MarkerFault[] = [];
  for (const [i, raw] of text
    .replace(/^\uFEFF/, "")
    .split(/\r\n|\r|\n/)
    .entries()) {
    const line = raw.trim();
    if (line === "" || HEAD.test(line)) continue;
    const read = readLine(line);
    if (typeof read === "string") {
      wrong.push({ line: i + 1, message: read });
      continue;
    }
    // The same rules as when they are saved: a name of its own, an end that is not before the beginning.
    const fault = shotFault({
      ...{ code: "X", title: "X", firstFrame: 0, lastFrame: 0 },
      markers: [...markers, read],
    });
    if (fault === null) markers.push(read);
    else wrong.push({ line: i + 1, message: fault.message });
  }
  return { markers, wrong };
}

/** As they are typed. */
export const writeMarkers = (markers: readonly Marker[]): string =>
  markers.map(({ name, first, end }) => `${name} ${first}-${end - 1}`).join("\n");

/** The text with a stretch more, or with the one of that name elsewhere; every other line stays as it was written. */
export function withMarker(text: string, name: string, stretch: string): string {
  const lines = text.trimEnd() === "" ? [] : text.trimEnd().split(/\r\n|\r|\n/);
  const at = lines.findIndex((line) => {
    const read = readLine(line.trim());
    return typeof read !== "string" && read.name === name;
  });
  const written = `${name} ${stretch}`;
  return (at < 0 ? [...lines, written] : lines.with(at, written)).join("\n");
}

/** As a table with a head. */
export const writeMarkerTable = (markers: readonly Marker[]): string =>
  `${Papa.unparse(
    {
      fields: ["name", "first", "last"],
      data: markers.map(({ name, first, end }) => [name, first, end - 1]),
    },
    { newline: "\n" },
  )}\n`;

/** What differs between two sets of markers, by name. */
export interface MarkerChange {
  readonly added: readonly string[];
  readonly removed: readonly string[];
  readonly moved: readonly string[];
}

export function markerChange(before: readonly Marker[], after: readonly Marker[]): MarkerChange {
  const known = new Map(before.map((marker) => [marker.name, marker]));
  const names = new Set(after.map(({ name }) => name));
  return {
    added: after.filter(({ name }) => !known.has(name)).map(({ name }) => name),
    removed: before.filter(({ name }) => !names.has(name)).map(({ name }) => name),
    moved: after
      .filter(({ name, first, end }) => {
        const was = known.get(name);
        return was !== undefined && (was.first !== first || was.end !== end);
      })
      .map(({ name }) => name),
  };
}
