/**
 * Whether a row that comes out of a record would lead out of its folder: what becomes part of a path on disk is held
 * against what such a column may hold, before it is put back.
 */
import path from "node:path";
import type { PathKind, RecordTable } from "../db/record-tables";
import { fromJson } from "../db/rows";
import type { RecordRow } from "./record-line";

/** One part of a path. */
const isName = (value: unknown): boolean =>
  typeof value === "string" && value !== "" && !/[/\\\0]/.test(value) && value !== "." && value !== "..";

/** A way down from a folder. */
const isWayDown = (value: unknown): boolean =>
  typeof value === "string" &&
  !value.includes("\0") &&
  !path.posix.isAbsolute(value) &&
  !value.split(/[/\\]/).includes("..");

/** A folder below a root with the names of the files in it, as the database gives JSON: read, or as text. */
function isPlace(value: unknown): boolean {
  try {
    const { root, folder, prefix, suffix, digits } = fromJson<Record<string, unknown>>(value);
    const isPart = (part: unknown): boolean => part === "" || isName(part);
    return isName(root) && isWayDown(folder) && isPart(prefix) && isPart(suffix) && Number.isInteger(digits);
  } catch {
    return false;
  }
}

const JUDGES: Readonly<Record<PathKind, (value: unknown) => boolean>> = {
  name: isName,
  way: isWayDown,
  place: isPlace,
};

export const leadsOut = ({ paths }: RecordTable, row: RecordRow): boolean =>
  Object.entries(paths).some(
    ([column, kind]) => row[column] !== null && row[column] !== undefined && !JUDGES[kind](row[column]),
  );
