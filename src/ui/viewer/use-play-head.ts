"use client";
/** Where the viewer stands in the sequence, between which frames it plays, and how it moves. */
import { useMemo, useState } from "react";
import { FrameIndex } from "@/core/frames/frame-index";
import { union } from "@/core/frames/frame-set";
import { findingBeside } from "../check/step-findings";
import { pictureUrl } from "../live/api";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import type { PictureStore } from "../picture/picture-store";
import { usePictureStore } from "../picture/use-picture-store";
import { type Player, type PlayRange, usePlayer } from "./use-player";

/** Pictures fetched ahead of the play head. */
const AHEAD = 24;

export interface PlayHead {
  /** 0-based place of the frame among `count`. */
  readonly position: number;
  /** Of all frames, those that are not there yet as well. */
  readonly count: number;
  /** Plays, stops, and tells how fast it really shows. */
  readonly player: Player;
  /** Decoded pictures around the head. */
  readonly pictures: PictureStore;
  /** Address of the picture that is looked at; null while there is none. */
  readonly url: string | null;
  /** Frames that it plays between; null for the whole sequence. */
  readonly between: { readonly first: number; readonly last: number } | null;
  /** Stops, and goes to a place, or to the nearest there is. */
  readonly goTo: (position: number) => void;
  readonly goToEnd: (which: "first" | "last") => void;
  readonly goToFinding: (direction: 1 | -1) => void;
  /** From here; a mark behind it is forgotten. */
  readonly markIn: () => void;
  /** Up to here; a mark before it is forgotten. */
  readonly markOut: () => void;
  readonly forgetMarks: () => void;
}

/** Positions; null where none was set. */
interface Marks {
  readonly first: number | null;
  readonly last: number | null;
}

const NO_MARKS: Marks = { first: null, last: null };

/** @param stretch frames that are played between from the beginning on; null: all, and it stands */
export function usePlayHead(
  frame: number,
  stretch: { readonly first: number; readonly last: number } | null,
  onFrame: (frame: number) => void,
): PlayHead {
  const { shot } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const index = useMemo(() => new FrameIndex(union(tally.asked, tally.results.extra)), [tally]);
  const position = index.positionOf(frame) ?? index.nearestPosition(frame) ?? 0;
  const last = Math.max(0, index.count - 1);
  const [marks, setMarks] = useState<Marks>(
    stretch === null
      ? NO_MARKS
      : { first: index.nearestPosition(stretch.first), last: index.nearestPosition(stretch.last) },
  );
  const range: PlayRange = {
    first: Math.min(marks.first ?? 0, last),
    last: Math.min(marks.last ?? last, last),
  };
  const urlAt = (at: number): string | null => {
    const number = index.frameAt(at);
    const file = number === null ? null : files.at(number);
    return file === null || file.content === "" ? null : pictureUrl(view.id, number!, file.content);
  };
  const pictures = usePictureStore();
  const rate = shot.plan.rate.numerator / shot.plan.rate.denominator;
  const player = usePlayer(position, range, rate, stretch !== null, (at) => {
    for (let k = 1; k <= AHEAD; k++) {
      const url = urlAt(at + k * (player.direction || 1));
      if (url !== null) pictures.get(url);
    }
    const number = index.frameAt(at);
    if (number !== null) onFrame(number);
    const url = urlAt(at);
    return url !== null && pictures.get(url) !== null;
  });
  const goTo = (to: number): void => {
    player.stop();
    const number = index.frameAt(Math.max(0, Math.min(last, to)));
    if (number !== null) onFrame(number);
  };
  const isMarked = marks.first !== null || marks.last !== null;
  return {
    position,
    count: index.count,
    player,
    pictures,
    url: urlAt(position),
    between: isMarked ? { first: index.frameAt(range.first)!, last: index.frameAt(range.last)! } : null,
    goTo,
    goToEnd: (which) => goTo(range[which]),
    goToFinding: (direction) => {
      const next = findingBeside(view.findings, frame, direction);
      const at = next === null ? null : index.positionOf(next);
      if (at !== null) goTo(at);
    },
    markIn: () =>
      setMarks((m) => ({ first: position, last: m.last !== null && m.last < position ? null : m.last })),
    markOut: () =>
      setMarks((m) => ({ first: m.first !== null && m.first > position ? null : m.first, last: position })),
    forgetMarks: () => setMarks(NO_MARKS),
  };
}
