/**
 * Which pass and which camera a foreign sequence is of, by the words of its folders and of its name. It is a proposal:
 * whoever takes the sequence in can say otherwise.
 */
import { isPass, type Pass, PASSES } from "../plan/passes";

/** Words of the trade for passes, beside our own names. */
const WORDS: Readonly<Record<string, Pass>> = {
  ...{ rgb: "beauty", rgba: "beauty", bty: "beauty" },
  ...{ denoise: "denoised", dn: "denoised" },
  ...{ z: "depth", zdepth: "depth" },
  ...{ n: "normal", normals: "normal", nrm: "normal", norm: "normal" },
  ...{ basecolor: "albedo", basecolour: "albedo", alb: "albedo" },
  ...{
    gi: "indirect",
    ind: "indirect",

    bg: "background",
    env: "background",
    sky: "background",
  },
  ...{ emit: "emission", emissive: "emission", glow: "emission" },
  ...{ diff: "diffuse", dif: "diffuse", spec: "specular", spc: "specular" },
  ...{
    refl: "reflection",
    rfl: "reflection",
    refr: "transmission",
    refraction: "transmission",
    trans: "transmission",
  },
  ...{ sss: "subsurface", vol: "volume", fog: "volume", atmosphere: "volume" },
  ...{ shadows: "shadow", shd: "shadow", ao: "occlusion", occ: "occlusion", ambientocclusion: "occlusion" },
  ...{
    pos: "position",
    p: "position",
    vector: "motion",
    velocity: "motion",
    mv: "motion",
  },
  ...{ mblur: "motion", uvs: "uv", st: "uv", mask: "matte", alpha: "matte", ids: "id" },
};
/** Too short to mean anything in the middle of a name. */
const SHORT = 2;

/** Whatever parts words in names. */
const PARTS = /[\s._-]+/;
const LIGHT = /^(?:light|lgt|l)[-_ ]?0*([1-8])$/;
/** `cam`, `camera2`, `camB`: a camp is none. */
const CAMERA = /^(?:[cC]am(?:era)?[A-Z]?\d*|CAM(?:ERA)?\d*)$/;
/** Of a pair of eyes. */
const EYES = ["left", "right"];

export interface Recognized {
  readonly camera: string;
  readonly pass: Pass;
}

/** A pass by its own name, or by a word for it; null for any other word. */
function passOf(word: string): Pass | null {
  const lower = word.toLowerCase();
  const light = LIGHT.exec(lower);
  if (light !== null) return PASSES.find((pass) => pass === `light-${light[1]}`) ?? null;
  return isPass(lower) ? lower : Object.hasOwn(WORDS, lower) ? WORDS[lower]! : null;
}

/** The last word that names a camera, such as `camB`, or `cam` with the word behind it; else an eye. */
function cameraAmong(words: readonly string[]): string | null {
  for (let i = words.length - 1; i >= 0; i--) {
    const word = words[i]!;
    if (!CAMERA.test(word)) continue;
    const next = words[i + 1];
    const isAlone = !/^cam(?:era)?$/i.test(word) || next === undefined || passOf(next) !== null;
    return isAlone ? word : `${word}-${next}`;
  }
  return words.findLast((word) => EYES.includes(word.toLowerCase()))?.toLowerCase() ?? null;
}

/**
 * Deeper folders say more than those above them, folders more than names, and the end of a name more than its
 * beginning.
 * @param folders from the place that was pointed at down to the sequence's own
 * @param prefix what stands before the number in its files
 */
export function recognize(folders: readonly string[], prefix: string): Recognized {
  const parts = prefix.split(PARTS).filter((part) => part !== "");
  let pass: Pass | null = null;
  let camera: string | null = null;
  for (const folder of [...folders].reverse()) {
    const words = folder.split(PARTS).filter((word) => word !== "");
    pass ??= passOf(folder) ?? passAmong(words);
    camera ??= cameraAmong(words);
  }
  pass ??= passAmong(parts);
  return { camera: camera ?? cameraAmong(parts) ?? "main", pass: pass ?? "beauty" };
}

/** The last word that names a pass; short ones count at the end alone. */
function passAmong(words: readonly string[]): Pass | null {
  for (let i = words.length - 1; i >= 0; i--) {
    const pass = passOf(words[i]!);
    if (pass !== null && (words[i]!.length > SHORT || i === words.length - 1)) return pass;
  }
  return null;
}
