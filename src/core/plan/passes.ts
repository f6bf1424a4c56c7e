/**
 * The passes that one render of a frame can write, each a sequence of its own. The names are the trade's: a
 * renderer that calls one otherwise declares its file under the name here. Their order is the order of bits in
 * columns of passes: a new pass goes to the end, and there may be 31.
 */

/** What the stand-in renderer writes. */
export const STAND_IN_PASSES = [
  "beauty",
  "denoised",
  "depth",
  "normal",
  "albedo",
  "direct",
  "indirect",
  "background",
] as const;
export type StandInPass = (typeof STAND_IN_PASSES)[number];

export const PASSES = [
  ...STAND_IN_PASSES,
  "emission",
  "diffuse",
  "specular",
  "reflection",
  "transmission",
  "subsurface",
  "volume",
  "shadow",
  "occlusion",
  "position",
  "motion",
  "uv",
  "matte",
  "id",
  "light-1",
  "light-2",
  "light-3",
  "light-4",
  "light-5",
  "light-6",
  "light-7",
  "light-8",
] as const;
export type Pass = (typeof PASSES)[number];

/** Whether the stand-in renderer writes a pass. */
export const isStandInPass = (pass: Pass): pass is StandInPass =>
  (STAND_IN_PASSES as readonly Pass[]).includes(pass);

/** Whether a text from outside names a pass. */
export const isPass = (text: string): text is Pass => (PASSES as readonly string[]).includes(text);

/** One channel: written grey where the format can. */
export const isGreyPass = (pass: Pass): boolean => pass === "depth";

/** Facts of surfaces and places. */
const NO_LIGHT: readonly Pass[] = [
  "depth",
  "normal",
  "albedo",
  "shadow",
  "occlusion",
  "position",
  "motion",
  "uv",
  "matte",
  "id",
];

/** Light that can be composited: may carry alpha, goes through the display curve in integer files. */
export const isLightPass = (pass: Pass): boolean => !NO_LIGHT.includes(pass);

/** What may be written as one channel: light and colours; a normal has three that mean nothing together. */
export const becomesGrey = (pass: Pass): boolean => isLightPass(pass) || pass === "albedo";

/** Whether the pass bears the plan's alpha: what lies behind the bodies is just what alpha takes away. */
export const bearsAlpha = (pass: Pass): boolean => isLightPass(pass) && pass !== "background";

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
