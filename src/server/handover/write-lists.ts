/** Lists and tables of a sequence's files, as texts. */
import path from "node:path";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { numberInName } from "@/core/handover/copy-names";
import { concatList, patchList, pathList, type SummedFile, sumsList } from "@/core/handover/lists";
import { folderUrl, otioClip } from "@/core/handover/otio-clip";
import { tallyCsv, tallyRows, type TableRow } from "@/core/handover/tally-table";
import type { Wish } from "@/core/handover/wish";
import { countsOf, todoOf } from "@/core/tally/tally";
import { formatPhrase } from "@/core/frames/phrase";
import { versionName } from "@/core/plan/plan";
import { durationSeconds } from "@/core/timing/rate";
import { TallyError } from "../errors";
import { fileHash } from "../files/content";
import { fileOf, framesOfPhrase, type Reel, type ReelSource } from "./reel";
import type { Making } from "./making";

/** Files of the slots in their order; a held frame's is named again. @throws TallyError `handover-wrong` for a card */
function filesOfSlots(
  reel: Reel,
): readonly { readonly source: ReelSource; readonly name: string; readonly frame: number }[] {
  return reel.slots.map((slot) => {
    if (slot.kind === "card")
      throw new TallyError("handover-wrong", {
        message: `A list names files, and frame ${slot.frame} has none: hold the frame before, or leave it out.`,
      }).at("gaps");
    const source = reel.sources[slot.of]!;
    return { source, name: fileOf(source, slot.from), frame: slot.from };
  });
}

function rowsOf({ state }: ReelSource, phrase: string): readonly TableRow[] {
  const findings = new Map<number, string[]>();
  for (const { frame, text } of state.findings) findings.set(frame, [...(findings.get(frame) ?? []), text]);
  return tallyRows(framesOfPhrase(state, phrase), state.tally, state.files, findings);
}

function tallyJson(source: ReelSource, phrase: string): string {
  const { sequence, state } = source;
  const value = {
    project: sequence.project,
    shot: sequence.shot,
    version: versionName(sequence),
    camera: sequence.camera,
    pass: sequence.pass,
    folder: source.folder,
    rate: `${state.read.plan.rate.numerator}/${state.read.plan.rate.denominator}`,
    ...countsOf(state.tally),
    asked: formatPhrase(state.tally.asked),
    todo: formatPhrase(todoOf(state.tally)),
    frames: rowsOf(source, phrase),
  };
  return `${JSON.stringify(value, null, 2)}\n`;
}

/** Every file is read anew: sums from memory prove nothing. */
async function sums(reel: Reel, { signal, onProgress }: Making): Promise<string> {
  const files = filesOfSlots(reel);
  const summed = new Map<string, SummedFile>();
  for (const [i, { source, name }] of files.entries()) {
    signal.throwIfAborted();
    if (!summed.has(name)) {
      const sum = await fileHash(path.join(source.folder, name)).catch((error: NodeJS.ErrnoException) => {
        throw error.code === "ENOENT" ? new TallyError("handover-picture-gone", { file: name }) : error;
      });
      summed.set(name, { name, sum });
    }
    onProgress((i + 1) / files.length);
  }
  return sumsList([...summed.values()]);
}

function clip(reel: Reel, wish: Extract<Wish, { as: "otio" }>): string {
  const [source] = reel.sources;
  const { sequence, state } = source!;
  const files = filesOfSlots(reel);
  const frames = framesOfPhrase(state, wish.frames);
  const [first, last] = [firstOf(frames)!, lastOf(frames)!];
  const step = frames.runs.length === 1 ? frames.runs[0]!.step : 1;
  const name = numberInName(files[0]!.name, files[0]!.frame);
  if (name === null)
    throw new TallyError("handover-wrong", { message: `${files[0]!.name} does not hold its number.` });
  return otioClip({
    name: reel.title,
    folderUrl: folderUrl(source!.folder),
    prefix: name.prefix,
    suffix: name.suffix,
    digits: name.digits,
    first,
    last,
    step,
    rate: wish.rate ?? reel.rate,
    about: {
      project: sequence.project,
      shot: sequence.shot,
      version: versionName(sequence),
      camera: sequence.camera,
      pass: sequence.pass,
      frames: reel.frames,
    },
  });
}

/** Kinds of handover that are one text. */
export type TextWish = Extract<
  Wish,
  | { as: "list" }
  | { as: "patch" }
  | { as: "concat" }
  | { as: "sums" }
  | { as: "csv" }
  | { as: "json" }
  | { as: "otio" }
>;

/** What is handed over, as it is written. */
export async function textOf(reel: Reel, wish: TextWish, making: Making): Promise<string> {
  const paths = (): string[] => filesOfSlots(reel).map(({ source, name }) => path.join(source.folder, name));
  switch (wish.as) {
    case "list":
      return pathList(paths());
    case "patch":
      return patchList(rowsOf(reel.sources[0]!, wish.frames).filter(({ result }) => result !== "good"));
    case "concat":
      return concatList(paths(), durationSeconds(1, reel.rate));
    case "sums":
      return sums(reel, making);
    case "csv":
      return tallyCsv(rowsOf(reel.sources[0]!, wish.frames));
    case "json":
      return tallyJson(reel.sources[0]!, wish.frames);
    case "otio":
      return clip(reel, wish);
  }
}
