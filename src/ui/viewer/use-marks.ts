"use client";
/** Between which places of a reel the viewer plays: marks that a person sets, or a stretch that was opened. */
import { useState } from "react";

/** Places; null where none was set. */
interface Marks {
  readonly first: number | null;
  readonly last: number | null;
}

const NO_MARKS: Marks = { first: null, last: null };

export interface MarkedRange {
  /** Places, both inclusive. */
  readonly first: number;
  readonly last: number;
  /** False: all of the reel. */
  readonly isMarked: boolean;
  /** From here; a mark behind it is forgotten. */
  readonly markIn: (place: number) => void;
  /** Up to here; a mark before it is forgotten. */
  readonly markOut: (place: number) => void;
  readonly forget: () => void;
}

/** @param count places of the reel @param opened places that are played from the beginning on; null: all */
export function useMarks(
  count: number,
  opened: { readonly first: number; readonly last: number } | null,
): MarkedRange {
  const [marks, setMarks] = useState<Marks>(opened ?? NO_MARKS);
  const end = Math.max(0, count - 1);
  return {
    first: Math.min(marks.first ?? 0, end),
    last: Math.min(marks.last ?? end, end),
    isMarked: marks.first !== null || marks.last !== null,
    markIn: (place) =>
      setMarks((m) => ({ first: place, last: m.last !== null && m.last < place ? null : m.last })),
    markOut: (place) =>
      setMarks((m) => ({ first: m.first !== null && m.first > place ? null : m.first, last: place })),
    forget: () => setMarks(NO_MARKS),
  };
}
