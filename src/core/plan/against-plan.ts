/** A whole file of a sequence against what the plan asks of it: what is not so is wrong with the frame, however good its picture. */
import { bitsOf } from "../image/file-format";
import { channelsOf } from "./pass-bytes";
import type { Pass } from "./passes";
import { scaledSize } from "./picture";
import type { Plan } from "./plan";

/** Null: nobody has said. */
export interface Asked {
  readonly size: { readonly width: number; readonly height: number } | null;
  /** Of a channel. */
  readonly bits: number | null;
  readonly channels: number | null;
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
}

export type PlanFault = "other-size" | "other-frame" | "other-depth" | "other-channels";

/**
 * Pictures of another program have the size that they were found with, each sequence its own; of their depth and
 * channels the plan only tells.
 */
export function askedOf(plan: Plan, camera: string, pass: Pass): Asked {
  if (plan.watched !== null)
    return {
      size: plan.watched.sequences.find((s) => s.camera === camera && s.pass === pass)?.size ?? null,
      bits: null,
      channels: null,
      words: "the others are",
    };
  return {
    size: scaledSize(plan),
    bits: plan.file.kind === "foreign" ? null : bitsOf(plan.file),
    channels: channelsOf(plan, pass),
    words: "the plan asks for",
  };
}

/**
 * The first thing that is not as asked. More bits or channels than asked hold all that was wanted. Compression is not
 * held against a file: a plan may change it in the middle of a version.
 */
export function planFault(
  frame: number,
  has: Has,
  { size, bits, channels, words }: Asked,
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
  return null;
}
