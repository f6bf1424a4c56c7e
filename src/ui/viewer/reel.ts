/** A row of places to be looked at and played: what the viewer knows of a sequence, an edit, or two versions side by side. */

/** What stands at a place where there is no picture. */
export const MISSING_WAYS = ["gap", "hold", "skip"] as const;
export type MissingWay = (typeof MISSING_WAYS)[number];

export interface Reel {
  /** Places, from 0 on. */
  readonly count: number;
  /** Pictures that are shown together at each place: 1, and more where some are compared. */
  readonly layers: number;
  /** Address of a picture, without what the viewer adds to it; null where there is none. */
  readonly addressAt: (place: number, layer: number) => string | null;
  /** What stays with a picture when places come and go, such as the frame's number; null where nothing does. */
  readonly numberAt: (place: number) => number | null;
  /** The place of a number, or the nearest to it. */
  readonly placeOf: (number: number) => number;
}

/** Of a reel whose places are all that its pictures have. */
export const BY_PLACE: Pick<Reel, "numberAt" | "placeOf"> = {
  numberAt: (place) => place,
  placeOf: (number) => number,
};

/** Places of a range that have a picture of the first layer, or all where none has. */
export function filledPlaces(reel: Reel, first: number, last: number): readonly number[] {
  const all = Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
  const filled = all.filter((place) => reel.addressAt(place, 0) !== null);
  return filled.length === 0 ? all : filled;
}

/** The place whose picture is shown at a place: an earlier one of the range where it is held; null: a gap. */
export function pictureAt(
  reel: Reel,
  place: number,
  layer: number,
  first: number,
  missing: MissingWay,
): { readonly place: number; readonly address: string } | null {
  for (let at = place; at >= Math.min(first, place); at--) {
    const address = reel.addressAt(at, layer);
    if (address !== null) return { place: at, address };
    if (missing !== "hold") return null;
  }
  return null;
}
