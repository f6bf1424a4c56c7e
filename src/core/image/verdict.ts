/** What a check of one file says. The shape that `plain-tally check --json` prints, less the path. */

export type FileFault = "empty" | "truncated" | "corrupt" | "not-an-image" | "unreadable";

export interface FileVerdict {
  /** By its bytes, else by its name; null where neither tells. */
  readonly format: string | null;
  readonly verdict: "good" | "damaged" | "unsupported";
  /** Null for good ones. */
  readonly code: FileFault | "unsupported-format" | null;
  /** What was found, with its figures; null for good ones. */
  readonly detail: string | null;
  /** Pixels; null where it cannot be read, and so below. */
  readonly width: number | null;
  readonly height: number | null;
  /** Of a channel. */
  readonly bitDepth: number | null;
  readonly channels: number | null;
  /** Share of the picture that can still be read, 0 to 1; null where nothing is wrong or known. */
  readonly share: number | null;
  /** What is odd and does no harm to the picture, a few words each. */
  readonly notes: readonly string[];
}

/** What a header tells of a picture. */
export interface Shape {
  readonly width: number;
  readonly height: number;
  readonly bitDepth: number;
  readonly channels: number;
}

/** A picture whose header cannot be read has no shape. */
const shapeOf = (shape: Shape | null): Pick<FileVerdict, "width" | "height" | "bitDepth" | "channels"> => ({
  width: shape?.width ?? null,
  height: shape?.height ?? null,
  bitDepth: shape?.bitDepth ?? null,
  channels: shape?.channels ?? null,
});

/** The file is whole. */
export const goodVerdict = (format: string, shape: Shape, notes: readonly string[] = []): FileVerdict => ({
  format,
  verdict: "good",
  code: null,
  detail: null,
  ...shapeOf(shape),
  share: null,
  notes,
});

/** The file is not whole. @param share how much of the picture is there, 0 to 1, where that can be told */
export const damaged = (
  format: string | null,
  code: FileFault,
  detail: string,
  shape: Shape | null = null,
  share: number | null = null,
): FileVerdict => ({ format, verdict: "damaged", code, detail, ...shapeOf(shape), share, notes: [] });

/** Rounded down: 100 % is said of whole pictures alone. */
export const percent = (share: number): string => `${Math.floor(share * 100)} %`;

/** The file ends before its picture does. @param there bytes of the file */
export const cutShort = (format: string, there: number, shape: Shape, share: number): FileVerdict =>
  damaged(
    format,
    "truncated",
    `cut short after ${there} bytes; ${percent(share)} of the picture is there`,
    shape,
    share,
  );

/** What stands behind a whole picture is no harm to it. */
export const trailing = (there: number, end: number): readonly string[] =>
  there > end ? [there - end === 1 ? "a byte follows the end" : `${there - end} bytes follow the end`] : [];

/** Nothing here can judge the file. Not good and not damaged: what is not known is never claimed. */
export const unsupported = (format: string | null, detail: string): FileVerdict => ({
  format,
  verdict: "unsupported",
  code: "unsupported-format",
  detail,
  ...shapeOf(null),
  share: null,
  notes: [],
});
