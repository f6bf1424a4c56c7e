/** Stretches of a shot that say by their name what happens in them: what is meant is no fault. */
import { EMPTY, type FrameSet, union } from "../frames/frame-set";
import type { NamedFrames } from "./odd-ones";

const FLASH = /^(flash|cut|strobe|lightning)/i;
const HOLD = /^(hold|freeze|still)/i;

/** @param stretches frames of each marker, by its name */
export function namedFrames(stretches: Readonly<Record<string, FrameSet>>): NamedFrames {
  const all = (pattern: RegExp): FrameSet =>
    Object.entries(stretches).reduce(
      (set, [name, frames]) => (pattern.test(name) ? union(set, frames) : set),
      EMPTY,
    );
  return { flashes: all(FLASH), holds: all(HOLD) };
}
