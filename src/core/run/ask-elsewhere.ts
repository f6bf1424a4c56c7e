/**
 * How frames are asked for where they are rendered: as a phrase, as numbers, as calls from a template, as a text to send.
 */
import { type FrameSet, members, runCount } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { fillTemplate } from "../plan/call-template";

/** Names that a call may hold in braces. */
export const ASK_NAMES = [
  "phrase",
  "list",
  "first",
  "last",
  "step",
  "frame",
  "count",
  "folder",
  "project",
  "shot",
  "version",
  "camera",
  "pass",
] as const;

/** A call of a place where frames are rendered, as the configuration declares it. It is shown, and never made. */
export interface AskTemplate {
  readonly name: string;
  readonly text: string;
  /** One call for all frames, one for each stretch, or one for each frame. */
  readonly each: "all" | "stretch" | "frame";
}

export type AskValues = Readonly<
  Record<"folder" | "project" | "shot" | "version" | "camera" | "pass", string>
>;

/** Lines of calls: more are no list that anybody copies. */
export const MOST_CALLS = 10_000;

export const commaList = (set: FrameSet): string => [...members(set)].join(",");
export const lineList = (set: FrameSet): string => [...members(set)].join("\n");
/** Stretches without a step, parted by blanks: what most programs read. */
export const rangeList = (set: FrameSet): string =>
  set.runs
    .flatMap((run) =>
      run.step === 1
        ? [run.first === run.last ? String(run.first) : `${run.first}-${run.last}`]
        : [...members({ runs: [run], count: runCount(run) })].map(String),
    )
    .join(" ");

/** Each call in a line; blank where there is no frame, or too many calls. */
export function callLines(template: AskTemplate, set: FrameSet, values: AskValues): string {
  if (set.count === 0) return "";
  const all = { ...values, phrase: formatPhrase(set), count: set.count };
  const line = (more: Readonly<Record<string, string | number>>): string =>
    fillTemplate([template.text], { ...all, ...more })[0]!;
  if (template.each === "all")
    return line({
      list: commaList(set),
      first: set.runs[0]!.first,
      last: set.runs.at(-1)!.last,
      step: set.runs.length === 1 ? set.runs[0]!.step : 1,
    });
  if (template.each === "frame")
    return set.count > MOST_CALLS
      ? ""
      : [...members(set)]
          .map((frame) => line({ frame, first: frame, last: frame, step: 1, list: frame, phrase: frame }))
          .join("\n");
  return set.runs.length > MOST_CALLS
    ? ""
    : set.runs
        .map((run) => {
          const own = { runs: [run], count: runCount(run) };
          return line({
            ...{ first: run.first, last: run.last, step: run.step },
            ...{ phrase: formatPhrase(own), list: commaList(own), count: own.count },
          });
        })
        .join("\n");
}

export interface AskedSequence {
  readonly camera: string;
  readonly pass: string;
  readonly set: FrameSet;
  /** Absolute. */
  readonly folder: string;
  /** Name of a frame's file. */
  readonly name: (frame: number) => string;
}

/** A text for whoever renders: which frames, of what, where they go, and what their files are called. */
export function askText(
  { project, shot, version }: Pick<AskValues, "project" | "shot" | "version">,
  size: { readonly width: number; readonly height: number },
  sequences: readonly AskedSequence[],
): string {
  const wanted = sequences.filter((s) => s.set.count > 0);
  return [
    `${project} ${shot} ${version}: frames to be rendered (again), ${size.width} x ${size.height}`,
    ...wanted.flatMap((s) => [
      "",
      `${s.camera} ${s.pass}: ${formatPhrase(s.set)}   (${s.set.count})`,
      `  as numbers: ${rangeList(s.set)}`,
      `  into:       ${s.folder}`,
      `  named as:   ${s.name(s.set.runs[0]!.first)}`,
    ]),
    "",
  ].join("\n");
}
