"use client";
/** Between which places of a reel the viewer plays: marks that a person sets, or a stretch that was opened. */
import { useState } from "react";
import type { Reel } from "./reel";

/** Numbers of frames, which stay when others come and go; null where none was set. */
interface Marks {
  readonly first: number | null;
  readonly last: number | null;
}

/** Frames, both inclusive. */
export interface Stretch {
  readonly first: number;
  readonly last: number;
}

const NO_MARKS: Marks = { first: null, last: null };

export interface MarkedRange {
  /** Places, both inclusive. */
  readonly first: number;
  readonly last: number;
  /** False: all of the reel. */
  readonly isMarked: boolean;
  /** From this place; a mark behind it is forgotten. */
  readonly markIn: (place: number) => void;
  /** Up to this place; a mark before it is forgotten. */
  readonly markOut: (place: number) => void;
  readonly forget: () => void;
}

/** @param opened what is played from the beginning on; null: all */
export function useMarks(reel: Reel, opened: Stretch | null): MarkedRange {
  const [marks, setMarks] = useState<Marks>(opened ?? NO_MARKS);
  const end = Math.max(0, reel.count - 1);
  const placeOf = (number: number | null, usual: number): number =>
    number === null ? usual : Math.min(Math.max(0, reel.placeOf(number)), end);
  return {
    first: placeOf(marks.first, 0),
    last: placeOf(marks.last, end),
    isMarked: marks.first !== null || marks.last !== null,
    markIn: (place) => {
      const first = reel.numberAt(place);
      if (first !== null)
        setMarks(({ last }) => ({ first, last: last !== null && last < first ? null : last }));
    },
    markOut: (place) => {
      const last = reel.numberAt(place);
      if (last !== null)
        setMarks(({ first }) => ({ first: first !== null && first > last ? null : first, last }));
    },
    forget: () => setMarks(NO_MARKS),
  };
}
