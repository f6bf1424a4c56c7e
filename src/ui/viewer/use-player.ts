/**
 * Plays positions of a sequence at a rate, by the clock and not by counting: a late picture is skipped, the
 * rate is kept.
 */
import { useEffect, useRef, useState } from "react";

/** Positions, both inclusive. */
export interface PlayRange {
  readonly first: number;
  readonly last: number;
}

/** Where playing from `from` has got to: loops inside the range, either way. Positions are whole. */
export function playedPosition(
  range: PlayRange,
  from: number,
  direction: 1 | -1,
  rate: number,
  elapsedSeconds: number,
): number {
  const length = range.last - range.first + 1;
  const start = Math.min(range.last, Math.max(range.first, from)) - range.first;
  const moved = start + direction * Math.floor(elapsedSeconds * rate);
  return range.first + (((moved % length) + length) % length);
}

export interface Player {
  /** 0 while it stands. */
  readonly direction: 0 | 1 | -1;
  /** Pictures really shown a second, measured over the last second; null while it stands. */
  readonly shownRate: number | null;
  /** Backwards with -1; a click while it plays turns it around. */
  readonly play: (direction: 1 | -1) => void;
  readonly stop: () => void;
}

/**
 * @param rate positions a second
 * @param isPlaying from the beginning, forwards
 * @param onShow shows a position; false when its picture is not ready
 */
export function usePlayer(
  position: number,
  range: PlayRange,
  rate: number,
  isPlaying: boolean,
  onShow: (position: number) => boolean,
): Player {
  const [direction, setDirection] = useState<0 | 1 | -1>(isPlaying ? 1 : 0);
  const [shownRate, setShownRate] = useState<number | null>(null);
  const start = useRef(position);
  start.current = position;
  const show = useRef(onShow);
  show.current = onShow;
  const { first, last } = range;
  useEffect(() => {
    if (direction === 0) return;
    const from = start.current;
    const began = performance.now();
    let shown = from;
    let pictures = 0;
    let since = began;
    let request = 0;
    const tick = (now: number): void => {
      const at = playedPosition({ first, last }, from, direction, rate, (now - began) / 1000);
      if (at !== shown) {
        shown = at;
        if (show.current(at)) pictures++;
      }
      if (now - since >= 1000) {
        setShownRate((pictures * 1000) / (now - since));
        pictures = 0;
        since = now;
      }
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => {
      cancelAnimationFrame(request);
      setShownRate(null);
    };
  }, [direction, first, last, rate]);
  return { direction, shownRate, play: setDirection, stop: () => setDirection(0) };
}
