"use client";
/**
 * The viewer as every page has it: the picture, what it is, the buttons and keys, the lines of settings that fold away,
 * and a scrubber below. What a page has besides is handed in.
 */
import { Box, Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useRef, useState } from "react";
import { type Reading, steppedStops } from "@/core/playback/shown-as";
import { rateText } from "@/core/timing/rate";
import type { Keys } from "../page/use-keys";
import { count } from "../words";
import { FactsOnPicture } from "./facts-on-picture";
import { type Fold, FOLDS } from "./folds";
import { Folds } from "./fold-buttons";
import { PictureSurface } from "./picture-surface";
import { PixelLine } from "./pixel-line";
import type { Reel } from "./reel";
import { StripOfPictures } from "./strip-of-pictures";
import type { PictureSurfaceProps, Pointed } from "./surface-props";
import { Transport } from "./transport";
import { useBackdrop } from "./use-backdrop";
import type { Playing } from "./use-playing";
import { PictureLine, PlayLine } from "./viewing-lines";
import { playText } from "./words";

/** What a page knows of its pictures. */
type Picture = Pick<PictureSurfaceProps, "readingOf" | "label" | "cardOf"> &
  Partial<Pick<PictureSurfaceProps, "isOnion" | "isDrawing" | "rectangles" | "onDraw">>;

export interface ViewerPanelProps {
  readonly playing: Playing;
  readonly reel: Reel;
  readonly picture: Picture;
  /** Of the first picture on show. */
  readonly reading: Reading;
  /** One for each layer. */
  readonly labels: readonly string[];
  /** Of a place, in the strip of pictures. */
  readonly nameOf: (place: number) => string;
  readonly hasSound?: boolean;
  /** Over the picture. */
  readonly overlay?: ReactNode;
  /** What may be written on it, a line each. */
  readonly onPicture: readonly (string | null)[];
  /** What is on show, in a line. */
  readonly facts: ReactNode;
  /** What plays, beside the figures of the player. */
  readonly range?: string;
  /** Beside those that everything has. */
  readonly keys?: Keys;
  readonly buttons?: ReactNode;
  /** Choices of what is compared; null where there is nothing to compare. */
  readonly comparing?: ReactNode;
  /** Below the lines of settings. */
  readonly children?: ReactNode;
  readonly scrubber: ReactNode;
  readonly onClose: () => void;
}

const NOTHING_DRAWN = (): void => undefined;

export function ViewerPanel({
  playing,
  reel,
  picture,
  reading,
  labels,
  nameOf,
  hasSound = false,
  overlay,
  onPicture,
  facts,
  range = "",
  keys = {},
  buttons,
  comparing = null,
  children,
  scrubber,
  onClose,
}: ViewerPanelProps) {
  const { viewing, change, marks, rate, planRate, viewer, place, surface } = playing;
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const backdrop = useBackdrop();
  const box = useRef<HTMLDivElement>(null);
  const isOpen = (fold: Fold): boolean => viewing.open.includes(fold);
  const goWide = (): void => {
    if (document.fullscreenElement !== null) void document.exitFullscreen();
    else void box.current?.requestFullscreen?.();
  };
  return (
    <>
      <Flex ref={box} direction="column" flex="1" minH="0">
        <PictureSurface
          isDrawing={false}
          rectangles={[]}
          onDraw={NOTHING_DRAWN}
          {...picture}
          handle={surface}
          layers={reel.layers}
          look={viewing.look}
          behind={backdrop.pixels}
          arrangement={viewing.arrangement}
          wipe={viewing.wipe}
          onWipe={(wipe) => change({ wipe })}
          gain={viewing.gain}
          onPoint={setPointed}
          zoom={playing.zoom}
          onZoom={playing.setZoom}
        >
          {overlay}
          {viewing.hasFacts && <FactsOnPicture lines={onPicture} />}
        </PictureSurface>
      </Flex>
      <Box px={{ base: "3", md: "6" }} pt="2" pb="3" borderTopWidth="1px" borderColor="rule">
        <Flex align="baseline" gap="4" rowGap="0" flexWrap="wrap" className="figures">
          {facts}
          <Text color="softInk" fontSize="xs" ml={{ lg: "auto" }} data-testid="play-state">
            {`${count(place + 1)} of ${count(reel.count)}`}
            {viewer === null ? "" : ` · ${playText(viewer.now, rateText(rate))}`}
            {range}
          </Text>
        </Flex>
        <Flex my="1" gap="2" rowGap="1" flexWrap="wrap" align="center">
          {viewer !== null && (
            <Transport
              player={viewer.player}
              now={viewer.now}
              rate={rateText(rate)}
              isMarked={marks.isMarked}
              onIn={() => marks.markIn(place)}
              onOut={() => marks.markOut(place)}
              onWhole={marks.forget}
              onEnd={(which) => viewer.player.goTo(which === "first" ? marks.first : marks.last)}
              onStops={(way) => change({ look: steppedStops(viewing.look, way) })}
              onFit={() => surface.current?.fit()}
              onEnlarge={(by) => surface.current?.enlarge(by)}
              onFullScreen={goWide}
              onClose={onClose}
              keys={keys}
            >
              {buttons}
            </Transport>
          )}
          <Folds
            open={viewing.open}
            onOpen={(open) => change({ open })}
            offered={FOLDS.filter((fold) => fold !== "comparing" || comparing !== null)}
          />
        </Flex>
        {isOpen("playing") && (
          <PlayLine viewing={viewing} onViewing={change} planRate={planRate} hasSound={hasSound} />
        )}
        {isOpen("seeing") && (
          <PictureLine
            viewing={viewing}
            onViewing={change}
            reading={reading}
            backdrop={backdrop}
            hasNeighbours={picture.isOnion !== undefined}
          />
        )}
        {isOpen("comparing") && comparing}
        <Flex color="softInk" fontSize="xs" minH="16px" gap="3" wrap="wrap" className="figures">
          {viewing.look.view === null && reading.why !== null && (
            <Text as="span" data-testid="reading">
              {reading.why}
            </Text>
          )}
          <PixelLine pointed={pointed} look={viewing.look} behind={backdrop.pixels} labels={labels} />
        </Flex>
        {children}
        {isOpen("strip") && (
          <StripOfPictures
            reel={reel}
            place={place}
            size={playing.size}
            readingOf={picture.readingOf}
            look={viewing.look}
            behind={backdrop.pixels}
            nameOf={nameOf}
            onPlace={(to) => viewer?.player.goTo(to)}
          />
        )}
        {scrubber}
      </Box>
    </>
  );
}
