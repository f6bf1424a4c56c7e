/**
 * What a project and a shot must be, before anything is made of them. Names are in addresses, folders and
 * files.
 */
import { isText, nameFault } from "../naming/name";
import { makeRate, type Rate, rateText } from "../timing/rate";
import type { Marker } from "./notes";

export interface ProjectFacts {
  /** In addresses, names and folders. */
  readonly slug: string;
  readonly title: string;
  /** Frames a second, for new plans. */
  readonly rate: Rate;
}

export interface ShotFacts {
  /** Unique in its project; stays as it is made. */
  readonly code: string;
  readonly title: string;
  /** Scene frames of the time line, both inclusive. */
  readonly firstFrame: number;
  readonly lastFrame: number;
  /** Stretches with a name. */
  readonly markers: readonly Marker[];
}

export interface NameFault<F extends string> {
  /** Which one is wrong. */
  readonly field: F;
  /** What would do. */
  readonly message: string;
}

/** Small letters, digits and single dashes between: safe in addresses and on every file system. */
const SLUG = /^[a-z0-9]+(-[a-z0-9]+)*$/;
/** As its column holds. */
export const LONGEST_SLUG = 64;
/** May hold capitals and low lines; never begins with a dash or a dot. */
const CODE = /^[A-Za-z0-9][A-Za-z0-9_-]*$/;
/** As its column holds. */
export const LONGEST_CODE = 32;
/** As its column holds. */
export const LONGEST_TITLE = 120;
/** From 0 either way: far beyond any film, and sums stay exact. */
const FURTHEST = 10_000_000;

/** Anything that a person can read. */
const isTitle = (title: string): boolean =>
  title.trim() !== "" && title.length <= LONGEST_TITLE && isText(title);

/** The first thing that is wrong; null when nothing is. */
export function projectFault({ slug, title, rate }: ProjectFacts): NameFault<keyof ProjectFacts> | null {
  if (!SLUG.test(slug) || slug.length > LONGEST_SLUG)
    return {
      field: "slug",
      message: `A project's name has small letters, digits and single hyphens, ${LONGEST_SLUG} at most: harbour-lights.`,
    };
  if (!isTitle(title)) return { field: "title", message: `A title has 1 to ${LONGEST_TITLE} characters.` };
  if (makeRate(rate.numerator, rate.denominator) === null)
    return {
      field: "rate",
      message: `${rateText(rate)} is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`,
    };
  return null;
}

/** The first thing that is wrong; null when nothing is. */
export function shotFault(shot: ShotFacts): NameFault<keyof ShotFacts> | null {
  const { code, title, firstFrame, lastFrame, markers } = shot;
  if (!CODE.test(code) || code.length > LONGEST_CODE)
    return {
      field: "code",
      message: `A shot's code begins with a letter or digit and has only those, - and _, ${LONGEST_CODE} at most: HL010.`,
    };
  if (!isTitle(title)) return { field: "title", message: `A title has 1 to ${LONGEST_TITLE} characters.` };
  const isFrame = (frame: number): boolean => Number.isInteger(frame) && Math.abs(frame) <= FURTHEST;
  if (!isFrame(firstFrame) || !isFrame(lastFrame) || lastFrame < firstFrame)
    return {
      field: "lastFrame",
      message: `A time line goes from a whole frame to one that is not before it; this is ${firstFrame} to ${lastFrame}.`,
    };
  const names = new Set<string>();
  for (const { name, first, end } of markers) {
    const fault = nameFault(name);
    if (fault !== null) return { field: "markers", message: `The name of a marker ${fault}.` };
    if (names.has(name))
      return { field: "markers", message: `Each marker has a name of its own; "${name}" is there twice.` };
    names.add(name);
    if (!isFrame(first) || !isFrame(end) || end <= first)
      return { field: "markers", message: `The marker ${name} ends before it begins: ${first} to ${end}.` };
  }
  return null;
}
