"use client";
/**
 * What everything that plays has in common: the choices of the person, the marked range, the player with its settings, and
 * the surface that it shows its pictures on.
 */
import { type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { FITTED, type Size, type Zoom } from "@/core/playback/zoom";
import type { Rate } from "@/core/timing/rate";
import type { PlayerEvents, PlaySettings } from "./player";
import type { Reel } from "./reel";
import type { SurfaceHandle } from "./surface-props";
import { type MarkedRange, type Stretch, useMarks } from "./use-marks";
import { useViewer, type Viewer } from "./use-viewer";
import type { KeptViewing } from "./use-viewing";
import { reductionFor, screenPart } from "./viewing";

export interface PlayingAsked {
  readonly reel: Reel;
  readonly kept: KeptViewing;
  readonly planRate: Rate;
  /** Of the pictures, as far as it is known before one is there. */
  readonly size: Size;
  /** Place that it begins at. */
  readonly at: number;
  /** What plays at once when it opens; null: it stands. */
  readonly stretch: Stretch | null;
  /** Beside painting. */
  readonly events: PlayerEvents;
}

export interface Playing extends KeptViewing {
  readonly planRate: Rate;
  readonly size: Size;
  /** That it plays at. */
  readonly rate: Rate;
  readonly marks: MarkedRange;
  readonly zoom: Zoom;
  readonly setZoom: (zoom: Zoom) => void;
  readonly surface: RefObject<SurfaceHandle | null>;
  /** Null in the first moment. */
  readonly viewer: Viewer | null;
  /** That is on show. */
  readonly place: number;
}

export function usePlaying({ reel, kept, planRate, size, at, stretch, events }: PlayingAsked): Playing {
  const { viewing } = kept;
  const [zoom, setZoom] = useState<Zoom>(FITTED);
  const surface = useRef<SurfaceHandle | null>(null);
  const marks = useMarks(reel, stretch);
  const rate = viewing.rate ?? planRate;
  const over = reductionFor(viewing.scale, zoom, screenPart(), size);
  const { every, ends, holdSeconds, missing, budget } = viewing;
  const { first, last } = marks;
  const settings = useMemo(
    (): PlaySettings => ({ first, last, every, ends, holdSeconds, rate, missing, over, budget }),
    [first, last, every, ends, holdSeconds, rate, missing, over, budget],
  );
  const viewer = useViewer(reel, settings, at, {
    ...events,
    onShow: (shown) => {
      surface.current?.show(shown);
      events.onShow(shown);
    },
  });
  // A stretch that was opened to be played plays; the surface is new with every player.
  const player = viewer?.player ?? null;
  const begins = useRef(stretch !== null);
  useEffect(() => {
    player?.showAgain();
    if (begins.current) player?.play(1);
    begins.current = false;
  }, [player]);
  return {
    ...kept,
    planRate,
    size,
    rate,
    marks,
    zoom,
    setZoom,
    surface,
    viewer,
    place: viewer?.now.place ?? at,
  };
}
