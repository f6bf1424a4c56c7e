"use client";
/** The frames of the sequence on the page as a reel: alone, with what they are compared with, or with their neighbours. */
import { useCallback, useMemo, useState } from "react";
import { FrameIndex } from "@/core/frames/frame-index";
import { union } from "@/core/frames/frame-set";
import { PLAIN_READING, type Reading } from "@/core/playback/shown-as";
import { useSequenceNow } from "../shot/shot-context";
import { useSoFar } from "../shot/use-so-far";
import type { Reel } from "./reel";
import { type Compared, type Layer, useComparedLayer, useComparedLayers, useMainLayer } from "./use-layers";

const BEFORE: Compared = { kind: "before" };
/** Places of the layers of an onion skin, from the one that is looked at. */
const ONION_SHIFTS = [0, -1, 1] as const;

export interface LookReel {
  readonly reel: Reel;
  /** Asked frames, and extra ones. */
  readonly index: FrameIndex;
  readonly layers: readonly Layer[];
  readonly readingOf: (layer: number) => Reading;
  /** What there is so far of the frame that it stands at; null where it is not in work. */
  readonly soFar: string | null;
  /** It stands at another frame. */
  readonly standAt: (frame: number) => void;
}

export interface LookAsked {
  /** Frame that it begins at. */
  readonly opened: number;
  readonly compared: readonly Compared[];
  /** The files that were replaced are shown in place of those that are there. */
  readonly isBefore: boolean;
  /** The neighbours shine through. */
  readonly isOnion: boolean;
}

export function useLookReel({ opened, compared, isBefore, isOnion }: LookAsked): LookReel {
  const { tally } = useSequenceNow();
  const index = useMemo(() => new FrameIndex(union(tally.asked, tally.results.extra)), [tally]);
  const main = useMainLayer();
  const before = useComparedLayer(main, BEFORE);
  const others = useComparedLayers(main, compared);
  const [standing, standAt] = useState(opened);
  const soFar = useSoFar(standing);
  const first = isBefore && before !== null ? before : main;
  const layers = useMemo(
    () => (isOnion ? [first, first, first] : [first, ...others]),
    [isOnion, first, others],
  );
  const readingOf = useCallback((layer: number) => layers[layer]?.reading ?? PLAIN_READING, [layers]);
  // Only where there is such a picture does the reel change with the frame that is looked at.
  const standsAt = soFar === null ? null : standing;
  const reel = useMemo(
    (): Reel => ({
      count: index.count,
      layers: layers.length,
      addressAt: (place, layer) => {
        const number = index.frameAt(place + (isOnion ? ONION_SHIFTS[layer]! : 0));
        if (number === null) return null;
        // A frame that is in work is seen as far as it is.
        return layers[layer]!.addressOf(number) ?? (layer === 0 && number === standsAt ? soFar : null);
      },
      numberAt: (place) => index.frameAt(place),
      placeOf: (number) => index.positionOf(number) ?? index.nearestPosition(number) ?? 0,
    }),
    [index, soFar, standsAt, layers, isOnion],
  );
  return { reel, index, layers, readingOf, soFar, standAt };
}
