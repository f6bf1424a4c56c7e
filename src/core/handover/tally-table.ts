/** The tally of a sequence as a table, a frame a row: CSV for spreadsheets, JSON for programs. */
import Papa from "papaparse";
import { type FrameSet, has, members } from "../frames/frame-set";
import { RESULTS, type Result, type Tally } from "../tally/tally";

/** What is known of a frame's file. */
export interface TableFile {
  readonly frame: number;
  readonly name: string;
  readonly bytes: number;
  readonly content: string | null;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly samples: number | null;
  readonly luminance: number | null;
  readonly noise: number | null;
}

export interface TableRow {
  readonly frame: number;
  readonly result: Result;
  readonly file: string | null;
  readonly bytes: number | null;
  readonly sha256: string | null;
  readonly node: string | null;
  readonly seconds: number | null;
  readonly samples: number | null;
  readonly luminance: number | null;
  readonly noise: number | null;
  /** What is open against it. */
  readonly findings: readonly string[];
}

/** A frame that the plan does not ask for and that has no file is missing: somebody asked for it here. */
const resultOf = (frame: number, { results }: Tally): Result =>
  RESULTS.find((result) => has(results[result], frame)) ?? "missing";

/** @param findings texts by frame */
export function tallyRows(
  frames: FrameSet,
  tally: Tally,
  files: readonly TableFile[],
  findings: ReadonlyMap<number, readonly string[]>,
): readonly TableRow[] {
  const byFrame = new Map(files.map((file) => [file.frame, file]));
  return [...members(frames)].map((frame) => {
    const file = byFrame.get(frame);
    return {
      frame,
      result: resultOf(frame, tally),
      file: file?.name ?? null,
      bytes: file?.bytes ?? null,
      sha256: file?.content ?? null,
      node: file?.node ?? null,
      seconds: file?.seconds ?? null,
      samples: file?.samples ?? null,
      luminance: file?.luminance ?? null,
      noise: file?.noise ?? null,
      findings: findings.get(frame) ?? [],
    };
  });
}

/** With a head; texts that a spreadsheet would take for a formula are told to be texts. */
export const tallyCsv = (rows: readonly TableRow[]): string =>
  `${Papa.unparse(
    rows.map((row) => ({ ...row, findings: row.findings.join("; ") })),
    { newline: "\n", escapeFormulae: true },
  )}\n`;
