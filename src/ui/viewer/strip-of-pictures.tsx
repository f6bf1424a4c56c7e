"use client";
/**
 * Small pictures of the frames around the one that is looked at, seen as it is seen. They lie still while one steps or
 * plays through them: the strip turns over like a page when the frame has left it.
 */
import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useMemo, useReducer, useRef, useState } from "react";
import type { LoadedPixels } from "@/contract/picture-messages";
import type { Look, Reading } from "@/core/playback/shown-as";
import { FITTED, placeOf, type Size } from "@/core/playback/zoom";
import { FrameMemory } from "./frame-memory";
import { type Painted, Painter, type Painting, type Pane } from "./gl/painter";
import { paintPlainly } from "./gl/plain-painter";
import { paintedOf, surroundOf } from "./painted-of";
import { PictureLoader } from "./picture-loader";
import type { Reel } from "./reel";
import { ReelPictures } from "./reel-pictures";
import { reductionFor } from "./viewing";

/** Of a picture with what is left free around it, in pixels of the page. */
const CELL: Size = { width: 128, height: 72 };
/** Of all small pictures in memory. */
const BUDGET = 64e6;

export interface StripProps {
  readonly reel: Reel;
  readonly place: number;
  /** Of the files' pictures, as far as it is known. */
  readonly size: Size;
  readonly readingOf: (layer: number, place: number) => Reading;
  readonly look: Look;
  readonly behind: LoadedPixels | null;
  readonly nameOf: (place: number) => string;
  readonly onPlace: (place: number) => void;
}

/** Loads the small pictures of some addresses, and tells when one is there. */
function useSmallPictures(urls: readonly string[], onChange: () => void) {
  const memory = useRef<FrameMemory | null>(null);
  const wanted = urls.join("\n");
  useEffect(() => {
    memory.current = new FrameMemory(new PictureLoader(), BUDGET, onChange);
    return () => {
      memory.current?.close();
      memory.current = null;
    };
  }, [onChange]);
  useEffect(() => memory.current?.want([], wanted === "" ? [] : wanted.split("\n")), [wanted]);
  return (url: string): LoadedPixels | null => {
    const kept = memory.current?.get(url);
    return kept?.state === "loaded" ? kept.pixels : null;
  };
}

/** In a cell of the strip, whole. @param ratio pixels of the drawing buffer a pixel of the page */
function paneOf(painted: Painted | null, cell: number, ratio: number): Pane {
  const part = {
    left: Math.round(cell * CELL.width * ratio),
    top: 0,
    width: Math.round(CELL.width * ratio),
    height: Math.round(CELL.height * ratio),
  };
  const { wholeWidth: width, wholeHeight: height } = painted?.pixels ?? { wholeWidth: 1, wholeHeight: 1 };
  return {
    part,
    place: placeOf(FITTED, part, { width, height }),
    a: painted,
    b: null,
    c: null,
    meeting: "one",
  };
}

export function StripOfPictures({ reel, place, size, readingOf, look, behind, nameOf, onPlace }: StripProps) {
  const strip = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const painter = useRef<Painter | null>(null);
  const [width, setWidth] = useState(0);
  const [, paintAnew] = useReducer((times: number) => times + 1, 0);
  const fits = Math.max(1, Math.floor(width / CELL.width));
  const from = Math.floor(place / fits) * fits;
  const places = Array.from({ length: Math.min(fits, reel.count - from) }, (_, i) => from + i);
  const over = reductionFor("shown", FITTED, CELL, size);
  const pictures = useMemo(() => new ReelPictures(reel, 0, "gap", over), [reel, over]);
  const urlAt = (at: number): string | null => pictures.at(at)[0]?.moving ?? null;
  const pixelsOf = useSmallPictures(width === 0 ? [] : places.flatMap((at) => urlAt(at) ?? []), paintAnew);

  useEffect(() => {
    painter.current = Painter.open(canvas.current!, paintAnew);
    const observer = new ResizeObserver(() => setWidth(strip.current!.clientWidth));
    observer.observe(strip.current!);
    return () => {
      observer.disconnect();
      painter.current?.close();
      painter.current = null;
    };
  }, []);
  // Whatever made the page draw this anew may have changed a picture.
  useEffect(() => {
    const ratio = window.devicePixelRatio || 1;
    const painting: Painting = {
      width: Math.max(1, Math.round(width * ratio)),
      height: Math.round(CELL.height * ratio),
      panes: places.map((at, cell) => {
        const url = urlAt(at);
        return paneOf(paintedOf(url === null ? null : pixelsOf(url), readingOf(0, at), look), cell, ratio);
      }),
      look,
      behind,
      wipe: { x: 0, y: 0, degrees: 0 },
      gain: 1,
      hasGrid: false,
      surround: surroundOf(strip.current!),
      ratio,
    };
    if (painter.current === null) paintPlainly(canvas.current!, painting);
    else painter.current.paint(painting);
  });

  return (
    <Box
      ref={strip}
      data-testid="strip"
      position="relative"
      bg="surround"
      mb="2"
      h={`${CELL.height}px`}
      overflow="hidden"
    >
      <canvas
        ref={canvas}
        style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
        aria-hidden
      />
      <Flex position="absolute" inset="0" role="group" aria-label="Strip of pictures">
        {places.map((at) => (
          <Box
            key={at}
            asChild
            w={`${CELL.width}px`}
            h="100%"
            flexShrink="0"
            position="relative"
            borderBottomWidth="3px"
            borderColor={at === place ? "petrol" : "transparent"}
            cursor="pointer"
          >
            <button
              type="button"
              aria-label={`Go to ${nameOf(at)}`}
              aria-current={at === place}
              onClick={() => onPlace(at)}
            >
              <Box
                as="span"
                position="absolute"
                left="0"
                bottom="0"
                px="1"
                bg="surround"
                color="onSurround"
                fontFamily="mono"
                fontSize="xs"
                whiteSpace="nowrap"
              >
                {nameOf(at)}
                {urlAt(at) === null ? ", none" : ""}
              </Box>
            </button>
          </Box>
        ))}
      </Flex>
    </Box>
  );
}
