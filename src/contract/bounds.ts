/**
 * How large anything from outside may be, in one table: bodies, paths, queries, plans, configuration, file
 * names, headers of pictures and texts inside them. Schemas and readers take their bounds from here, and
 * columns hold at least as much (a test compares them). A value that is beyond its bound is refused with its
 * name and never cut in silence.
 */
import { MAX_FRAME_NUMBER } from "@/core/frames/frame-set";
import { LONGEST_MACHINE, LONGEST_NAME } from "@/core/naming/name";
import { LONGEST_CODE, LONGEST_SLUG, LONGEST_TITLE } from "@/core/plan/shot";

export const BOUNDS = {
  /** Ids of rows, as INT UNSIGNED holds them. */
  id: 4_294_967_295,
  /** Numbers of files, either side of 0. */
  frame: MAX_FRAME_NUMBER,
  /** Characters of a name that we give; those of some things are shorter still. */
  name: LONGEST_NAME,
  cameraName: 64,
  nodeName: 64,
  machineName: LONGEST_MACHINE,
  projectName: LONGEST_SLUG,
  shotCode: LONGEST_CODE,
  presetName: 80,
  title: LONGEST_TITLE,
  /** Of a path that is written somewhere, relative to a project. */
  path: 500,
  /** A hash, a version of a program, a word of a protocol. */
  word: 255,
  /** What somebody gives as the reason for a flag. */
  reason: 500,
  phrase: 100_000,
  /** Frames of a share as plain numbers. */
  sharePhrase: 1_000_000,
  /** What is looked for in a log. */
  search: 200,
  /** An edit list or a preset as a text. */
  listText: 50_000_000,
  /** A request as a whole, in bytes. */
  bodyBytes: 64_000_000,
  /** Objects and lists inside one another. A plan has four. */
  depth: 64,
  /** Bytes in megabytes that somebody may allow a renderer. */
  memoryMb: 16_777_216,
  /** Sides of a picture, in pixels. */
  side: 65_536,
  samples: 65_536,
} as const;

/** Schema of an id of a row. */
export const ID = { type: "integer", minimum: 1, maximum: BOUNDS.id } as const;

/** Schema of the number of a frame. */
export const FRAME = { type: "integer", minimum: -BOUNDS.frame, maximum: BOUNDS.frame } as const;

/** Schema of a name that we give. */
export const nameOfLength = (maxLength: number) =>
  ({ type: "string", minLength: 1, maxLength, format: "name" }) as const;

/** Schema of a text that is shown or kept, and names nothing. */
export const textOfLength = (maxLength: number) => ({ type: "string", maxLength }) as const;
