/** What is found in synthetic shots, against what was put into them. */
import { measurePicture } from "@/core/image/measure-picture";
import type { MeasuredFrame, OddCode, Thresholds } from "@/core/odd/odd";
import { oddOnes } from "@/core/odd/odd-ones";
import { profileOf } from "@/core/odd/profile";
import { type Fault, FRAMES, syntheticShot, type SyntheticShot } from "./synthetic-shot";

/** What may be said of each fault: a pop of the light is a brightness as well. */
const SAID: Readonly<Record<Fault, readonly OddCode[]>> = {
  pop: ["pop", "brightness"],
  frozen: ["frozen", "double"],
  flicker: ["flicker"],
  fireflies: ["hot-pixels"],
  brightness: ["brightness", "pop"],
  noise: ["noise"],
  size: ["size"],
  seconds: ["seconds"],
};

export interface Score {
  readonly seed: number;
  /** Of each fault: frames that have it, and those of them that were told. */
  readonly faults: ReadonlyMap<Fault, { readonly there: number; readonly found: number }>;
  /** Frames without a fault that were told, with what. */
  readonly falseAlarms: readonly string[];
  /** Frames with a fault that was not told. */
  readonly overlooked: readonly string[];
}

/** All frames of a synthetic shot, measured. */
export const measuredShot = (shot: SyntheticShot): readonly MeasuredFrame[] =>
  Array.from({ length: FRAMES }, (_, i): MeasuredFrame => {
    const { image, bytes, seconds } = shot.frame(i + 1);
    const measured = measurePicture(image, false);
    return {
      ...{ frame: i + 1, ...measured, bytes, seconds, content: `${bytes} ${measured.pixels}` },
      ...{ samples: 64, modifiedMs: i * 60_000 },
    };
  });

export function scoreOf(seed: number, thresholds: Thresholds): Score {
  const shot = syntheticShot(seed);
  const frames = measuredShot(shot);
  const told = new Map<number, OddCode[]>();
  for (const { frame, code } of oddOnes(profileOf(frames), thresholds, shot))
    told.set(frame, [...(told.get(frame) ?? []), code]);
  const faults = new Map<Fault, { there: number; found: number }>();
  const overlooked: string[] = [];
  for (const [frame, fault] of shot.truth) {
    const counts = faults.get(fault) ?? { there: 0, found: 0 };
    const isFound = (told.get(frame) ?? []).some((code) => SAID[fault].includes(code));
    faults.set(fault, { there: counts.there + 1, found: counts.found + (isFound ? 1 : 0) });
    if (!isFound) overlooked.push(`${frame} ${fault}`);
  }
  return {
    seed,
    faults,
    overlooked,
    falseAlarms: [...told]
      .filter(([frame]) => !shot.truth.has(frame))
      .map(([frame, codes]) => `${frame} ${codes.join(" ")}`),
  };
}
