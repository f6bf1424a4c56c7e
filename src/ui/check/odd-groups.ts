/** Odd ones as they are judged: all that is odd of a frame is one thing to decide. */
import type { OddLine } from "@/contract/odd-view";
import type { FindingPlace } from "@/contract/sequence-view";
import { type FrameSet, has } from "@/core/frames/frame-set";
import type { OddCode } from "@/core/odd/odd";
import { groupBy } from "@/core/many";

export interface OddGroup {
  readonly frame: number;
  readonly odd: readonly OddLine[];
  /** Open while one of them is. */
  readonly state: OddLine["state"];
  /** Of the first that has one; null: all of the picture. */
  readonly place: FindingPlace | null;
}

/** By frame. */
export function oddGroups(odd: readonly OddLine[]): readonly OddGroup[] {
  return [...groupBy(odd, ({ frame }) => frame)].map(([frame, own]) => ({
    frame,
    odd: own,
    state: own.some((one) => one.state === "open")
      ? "open"
      : own.some((one) => one.state === "accepted")
        ? "accepted"
        : "dismissed",
    place: own.find((one) => one.place !== null)?.place ?? null,
  }));
}

/** How many times what is expected; the farthest of a frame's. */
const farness = ({ odd }: OddGroup): number =>
  odd.reduce((top, { value, expected }) => {
    const [low, high] = [Math.min(value, expected), Math.max(value, expected)];
    return Math.max(top, low <= 0 ? (high <= 0 ? 0 : Infinity) : high / low);
  }, 0);

export type OddOrder = "frame" | "far";

/** Of one kind or of all, by frame or the farthest off first. */
export function orderedGroups(
  groups: readonly OddGroup[],
  order: OddOrder,
  code: OddCode | "all",
): readonly OddGroup[] {
  const wanted =
    code === "all" ? [...groups] : groups.filter(({ odd }) => odd.some((one) => one.code === code));
  return wanted.sort((a, b) => (order === "far" ? farness(b) - farness(a) : 0) || a.frame - b.frame);
}

/** What buttons and keys are about: those of the selection where it holds several, or the one that is looked at. */
export function judgedGroups(
  groups: readonly OddGroup[],
  selected: FrameSet,
  focus: number | null,
): readonly OddGroup[] {
  const several = groups.filter(({ frame }) => has(selected, frame));
  return several.length > 1 ? several : groups.filter(({ frame }) => frame === focus);
}

/** As the server is told of them. */
export const namedOdd = (groups: readonly OddGroup[]): readonly Pick<OddLine, "frame" | "code">[] =>
  groups.flatMap(({ odd }) => odd.map(({ frame, code }) => ({ frame, code })));
