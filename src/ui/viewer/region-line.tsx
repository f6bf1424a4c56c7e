"use client";
/** The rectangle that was drawn on the picture: what it measures, and what can be done with it. */
import { Button, Flex, Text } from "@chakra-ui/react";
import type { FindingPlace } from "@/contract/sequence-view";
import type { Look } from "@/core/playback/shown-as";
import type { Painted, Painter } from "./gl/painter";
import { measureRegion } from "./pixel-values";

export function RegionLine({
  place,
  painted,
  painter,
  look,
  onFlag,
  onForget,
}: {
  readonly place: FindingPlace;
  /** The first picture; null while there is none. */
  readonly painted: Painted | null;
  readonly painter: Painter | null;
  readonly look: Look;
  readonly onFlag: () => void;
  readonly onForget: () => void;
}) {
  const whole = painted?.pixels;
  const region =
    whole === undefined
      ? null
      : {
          x: Math.floor(place.left * whole.wholeWidth),
          y: Math.floor(place.top * whole.wholeHeight),
          width: Math.max(1, Math.round(place.width * whole.wholeWidth)),
          height: Math.max(1, Math.round(place.height * whole.wholeHeight)),
        };
  const measures =
    region === null || painted === null || painter === null
      ? null
      : measureRegion(painted, painter, look, region);
  return (
    <Flex gap="3" align="center" fontSize="xs" className="figures" my="1" data-testid="region">
      {region !== null && (
        <Text>
          {region.width} x {region.height} at {region.x}, {region.y}
          {measures === null
            ? ""
            : `: mean ${measures.mean.map((value) => value.toPrecision(3)).join(" ")}${measures.noise === null ? "" : `, grain ${(measures.noise * 100).toFixed(2)} %`}`}
        </Text>
      )}
      <Button size="xs" variant="outline" onClick={onFlag}>
        Flag it, with a note
      </Button>
      <Button size="xs" variant="plain" onClick={onForget}>
        Forget it
      </Button>
    </Flex>
  );
}
