/** A whole file of a sequence against what the plan asks of it: what is not so is wrong with the frame, however good its picture. */
import { bitsOf } from "../image/file-format";
import type { Encoding } from "../image/encoding";
import { channelsOf } from "./pass-bytes";
import type { Pass } from "./passes";
import { scaledSize } from "./picture";
import type { Plan } from "./plan";
import { isExternal } from "./renderer";

/** Null: nobody has said. */
export interface Asked {
  readonly size: { readonly width: number; readonly height: number } | null;
  /** Of a channel. */
  readonly bits: number | null;
  readonly channels: number | null;
  /** Ways to pack it, any of them. */
  readonly compressions: readonly string[] | null;
  /** Colours are what files are taken for that say nothing of them: sRGB, or scene light of Rec. 709. */
  readonly isOfUsualColours: boolean;
  /** "the plan asks for", "the others are" */
  readonly words: string;
}

/** What the file has, and which frame it says that it is. */
export interface Has {
  readonly width: number | null;
  readonly height: number | null;
  readonly bitDepth: number | null;
  readonly channels: number | null;
  readonly frame: number | null;
  readonly encoding: Encoding;
}

export type PlanFault =
  "other-size" | "other-frame" | "other-depth" | "other-channels" | "other-compression" | "other-colours";

/**
 * Pictures of another program have the size that they were found with, each sequence its own; of their depth and
 * channels the plan only tells. How other renderers pack a picture, and what they say of its colours, is theirs.
 * @param earlier plans of the version: packing may change in the middle of one, and its frames are none the worse
 */
export function askedOf(plan: Plan, camera: string, pass: Pass, earlier: readonly Plan[]): Asked {
  if (plan.watched !== null)
    return {
      size: plan.watched.sequences.find((s) => s.camera === camera && s.pass === pass)?.size ?? null,
      bits: null,
      channels: null,
      compressions: null,
      isOfUsualColours: false,
      words: "the others are",
    };
  return {
    size: scaledSize(plan),
    bits: plan.file.kind === "foreign" ? null : bitsOf(plan.file),
    channels: channelsOf(plan, pass),
    compressions: isExternal(plan)
      ? null
      : [plan, ...earlier].flatMap(({ file }) => ("compression" in file ? [file.compression] : [])),
    isOfUsualColours: !isExternal(plan),
    words: "the plan asks for",
  };
}

/**
 * The first thing that is not as asked. More bits or channels than asked hold all that was wanted.
 */
export function planFault(
  frame: number,
  has: Has,
  { size, bits, channels, compressions, isOfUsualColours, words }: Asked,
): { readonly code: PlanFault; readonly text: string } | null {
  if (has.frame !== null && has.frame !== frame)
    return {
      code: "other-frame",
      text: `the file says that it is frame ${has.frame}, its name that it is ${frame}`,
    };
  if (size !== null && (has.width !== size.width || has.height !== size.height))
    return {
      code: "other-size",
      text: `the picture is ${has.width} x ${has.height}, ${words} ${size.width} x ${size.height}`,
    };
  if (bits !== null && has.bitDepth !== null && has.bitDepth < bits)
    return { code: "other-depth", text: `a channel has ${has.bitDepth} bits, ${words} ${bits}` };
  if (channels !== null && has.channels !== null && has.channels < channels)
    return {
      code: "other-channels",
      text: `the picture has ${has.channels} channel${has.channels === 1 ? "" : "s"}, ${words} ${channels}`,
    };
  const { compression, colours } = has.encoding;
  if (compressions !== null && compression !== null && !compressions.includes(compression))
    return {
      code: "other-compression",
      text: `the file is packed by ${compression}, ${words} ${compressions[0] ?? "another format"}`,
    };
  if (isOfUsualColours && colours !== null)
    return {
      code: "other-colours",
      text: `the file says that its colours have ${colours}, and the others do not`,
    };
  return null;
}
