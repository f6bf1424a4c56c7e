/**
 * The passes that one render of a frame can write, each a sequence of its own.
 * Their order is the order of bits in columns of passes: a new pass goes to the end.
 */

export const PASSES = ["beauty", "denoised", "depth", "normal", "albedo", "direct", "indirect"] as const;
export type Pass = (typeof PASSES)[number];

/** Whether a text from outside names a pass. */
export const isPass = (text: string): text is Pass => (PASSES as readonly string[]).includes(text);

/** One channel: written grey where the format can. */
export const isGreyPass = (pass: Pass): boolean => pass === "depth";

/** Light that can be composited: may carry alpha, goes through the display curve in integer files. */
export const isLightPass = (pass: Pass): boolean =>
  pass === "beauty" || pass === "denoised" || pass === "direct" || pass === "indirect";

/**
 * What the denoiser reads besides the beauty: from these four the denoised twin can be made again without
 * rendering.
 */
export const GUIDE_PASSES = ["albedo", "normal", "depth"] as const satisfies readonly Pass[];

/** A set of passes as bits, in the order of PASSES: how the queue keeps what a task may write. */
export const passBits = (passes: Iterable<Pass>): number =>
  [...passes].reduce((bits, pass) => bits | (1 << PASSES.indexOf(pass)), 0);
/** Passes of a bit set, as task rows keep them; in the order of PASSES. */
export const passesOfBits = (bits: number): Pass[] => PASSES.filter((_, i) => (bits & (1 << i)) !== 0);
