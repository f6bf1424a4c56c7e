"use client";
/** The edit from its first place to its last: a block a clip, holes open, what is in memory ruled off below. */
import { Box } from "@chakra-ui/react";
import type { ReelStretch } from "@/core/edit/edit-reel";

const HEIGHT = 44;
/** Parts of the strip's width that a block needs to bear its name. */
const NAME_FROM = 0.05;

/** Runs of places that follow one another. */
function runsOf(places: readonly number[]): readonly { readonly first: number; readonly last: number }[] {
  const runs: { first: number; last: number }[] = [];
  for (const place of places) {
    const run = runs.at(-1);
    if (run !== undefined && place === run.last + 1) run.last = place;
    else runs.push({ first: place, last: place });
  }
  return runs;
}

export function EditStrip({
  stretches,
  count,
  place,
  loaded,
  onPlace,
}: {
  readonly stretches: readonly ReelStretch[];
  readonly count: number;
  readonly place: number;
  /** Places whose pictures are in memory, ascending. */
  readonly loaded: readonly number[];
  readonly onPlace: (place: number) => void;
}) {
  const percent = (places: number): string => `${(places / Math.max(1, count)) * 100}%`;
  const goTo = (event: React.PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    onPlace(Math.floor(((event.clientX - box.left) / box.width) * count));
  };
  return (
    <Box
      position="relative"
      h={`${HEIGHT}px`}
      role="slider"
      aria-label="Place in the edit"
      aria-valuemin={1}
      aria-valuemax={count}
      aria-valuenow={place + 1}
      tabIndex={0}
      cursor="crosshair"
      touchAction="none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        goTo(event);
      }}
      onPointerMove={(event) => {
        if (event.buttons === 1) goTo(event);
      }}
    >
      {stretches.map(({ code, start, length }) => (
        <Box
          key={start}
          position="absolute"
          left={percent(start)}
          width={percent(length)}
          top="4px"
          h="26px"
          borderWidth="1px"
          borderStyle={code === null ? "dashed" : "solid"}
          borderColor={code === null ? "ochre" : "ink"}
          bg={code === null ? "transparent" : "sheet"}
          fontFamily="mono"
          fontSize="xs"
          px="1"
          overflow="hidden"
          whiteSpace="nowrap"
          title={code ?? "nothing is here"}
          data-testid="stretch"
        >
          {length / count >= NAME_FROM ? (code ?? "hole") : ""}
        </Box>
      ))}
      {runsOf(loaded).map(({ first, last }) => (
        <Box
          key={first}
          position="absolute"
          left={percent(first)}
          width={percent(last - first + 1)}
          top="34px"
          h="2px"
          bg="ink"
        />
      ))}
      <Box position="absolute" left={percent(place)} top="0" h="38px" w="2px" bg="petrol" />
    </Box>
  );
}
