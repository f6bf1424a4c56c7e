/**
 * A list of shots as a table: code, title, first, last, scene, camera. A spreadsheet's export in whatever
 * separator it uses. What is wrong is told with its line, and the other lines are read all the same.
 */
import Papa from "papaparse";
import { BLANK_WISH, type ShotWish } from "./shot-wish";

/** A list of more is no film. */
export const MAX_LIST_LINES = 10_000;

export interface LineFault {
  /** Of the text, from 1. */
  readonly line: number;
  readonly message: string;
}

export interface WishLine extends ShotWish {
  readonly line: number;
}

export interface ShotList {
  readonly wishes: readonly WishLine[];
  readonly wrong: readonly LineFault[];
}

const COLUMNS = ["code", "title", "first", "last", "scene", "camera"] as const;
type Column = (typeof COLUMNS)[number];

/** Where each column stands, by a first line that names them; without one they stand in the order above. */
function readHead(cells: readonly string[]): ReadonlyMap<Column, number> | null {
  const names = cells.map((cell) => cell.trim().toLowerCase());
  if (!names.includes("code")) return null;
  return new Map(COLUMNS.flatMap((c) => (names.includes(c) ? [[c, names.indexOf(c)] as const] : [])));
}

/** A whole number; null for a blank; undefined for anything else. */
function readFrame(text: string): number | null | undefined {
  if (text === "") return null;
  return /^-?\d{1,9}$/.test(text) ? Number(text) : undefined;
}

/** Several cameras stand with blanks, plus signs or semicolons between them. */
const readCameras = (text: string): readonly string[] | null =>
  text === "" ? null : [...new Set(text.split(/[\s+;|]+/).filter((name) => name !== ""))];

function readLine(cellOf: (column: Column) => string, line: number): WishLine | LineFault {
  const code = cellOf("code");
  if (code === "") return { line, message: "There is no code." };
  const [first, last] = [readFrame(cellOf("first")), readFrame(cellOf("last"))];
  if (first === undefined || last === undefined) {
    const column = first === undefined ? "first" : "last";
    return { line, message: `"${cellOf(column)}" in the column ${column} is no frame.` };
  }
  if ((first === null) !== (last === null))
    return { line, message: `First and last go together; ${first === null ? "first" : "last"} is blank.` };
  return {
    ...BLANK_WISH,
    line,
    code,
    title: cellOf("title") === "" ? null : cellOf("title"),
    timeLine: first === null || last === null ? null : { first, last },
    scene: cellOf("scene") === "" ? null : cellOf("scene"),
    cameras: readCameras(cellOf("camera")),
  };
}

interface Row {
  readonly cells: readonly string[];
  /** Where it begins: a text in quotes may go over several. */
  readonly line: number;
}

function rowsOf(text: string): readonly Row[] {
  const found: Row[] = [];
  let [from, line] = [0, 1];
  Papa.parse<string[]>(text, {
    step: ({ data, meta }) => {
      found.push({ cells: data, line });
      line += text.slice(from, meta.cursor).match(/\r\n|\r|\n/g)?.length ?? 0;
      from = meta.cursor;
    },
  });
  return found;
}

/** Reads the table. A code that stands twice counts where it stands first. */
export function readShotList(text: string): ShotList {
  const wishes: WishLine[] = [];
  const wrong: LineFault[] = [];
  const lineOf = new Map<string, number>();
  let head: ReadonlyMap<Column, number> = new Map(COLUMNS.map((column, i) => [column, i]));
  let isFirst = true;
  for (const { cells, line } of rowsOf(text.replace(/^\uFEFF/, ""))) {
    if (cells.every((cell) => cell.trim() === "")) continue;
    const named = isFirst ? readHead(cells) : null;
    isFirst = false;
    if (named !== null) {
      head = named;
      continue;
    }
    if (wishes.length >= MAX_LIST_LINES) {
      wrong.push({ line, message: `A list has ${MAX_LIST_LINES.toLocaleString("en")} shots at most.` });
      break;
    }
    const read = readLine((column) => (cells[head.get(column) ?? -1] ?? "").trim(), line);
    if ("message" in read) {
      wrong.push(read);
      continue;
    }
    const before = lineOf.get(read.code.toLowerCase());
    if (before !== undefined) wrong.push({ line, message: `${read.code} stands in line ${before} already.` });
    else {
      lineOf.set(read.code.toLowerCase(), line);
      wishes.push(read);
    }
  }
  return { wishes, wrong };
}
