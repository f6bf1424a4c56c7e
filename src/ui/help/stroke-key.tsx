"use client";
/** The key to the band: each result and activity as it is drawn there, with its meaning. */
import { Grid, Text } from "@chakra-ui/react";
import { Fragment, useMemo } from "react";
import { EMPTY, setOf } from "@/core/frames/frame-set";
import { deriveTally, type Facts, NO_FACTS } from "@/core/tally/tally";
import { makeBandData } from "../band/band-data";
import { drawStrokes } from "../band/draw";
import { layoutBand } from "../band/layout";
import { paint } from "../band/marks";
import { useCanvas } from "../band/use-canvas";

/** One frame is all that a stroke needs. */
const one = setOf([1]);
/** The facts of a frame that is there and asked for: good unless something is added. */
const file = { asked: one, files: one };

/** In the order of what a frame goes through, results first, then what goes on. */
const MEANINGS: readonly (readonly [string, Partial<Facts>, string])[] = [
  ["good", file, "the file is whole and fits the plan"],
  ["missing", { asked: one }, "there is no file"],
  ["partial", { asked: one, checkpointed: one }, "no file, but a part of the samples is kept"],
  ["failed", { asked: one, lastAttemptFailed: one }, "no file, and the last attempt ended in an error"],
  ["flagged", { ...file, rejected: one }, "a check, a node or a person rejects the file"],
  ["stale", { ...file, otherLook: one }, "whole, but made with another scene or setting"],
  ["unchecked", { ...file, unlooked: one }, "a file that nothing has looked at yet"],
  ["extra", { files: one }, "a file that the plan does not ask for"],
  ["waiting", { asked: one, waiting: one }, "in the queue of a run"],
  ["rendering", { ...file, rendering: one }, "being rendered; the second stroke grows"],
  ["checking", { ...file, checking: one }, "its file is about to be read"],
];

/** Drawn by the band's own code from facts of one frame, so that key and band cannot differ. */
export function StrokeKey() {
  return (
    <Grid templateColumns="28px 90px 1fr" rowGap="0" columnGap="3" alignItems="center">
      {MEANINGS.map(([name, facts, meaning]) => (
        <Fragment key={name}>
          <Stroke facts={facts} />
          <Text fontFamily="mono">{name}</Text>
          <Text color="softInk">{meaning}</Text>
        </Fragment>
      ))}
    </Grid>
  );
}

/** Pixels: wide enough for the shapes at the band's own scale. */
const WIDTH = 24;
const HEIGHT = 40;
/** The band's own stroke, made smaller as it is; room below the base line for extra ones. */
const BELOW = 12;

/** One frame, drawn as the band would draw it. */
function Stroke({ facts }: { readonly facts: Partial<Facts> }) {
  const data = useMemo(() => makeBandData(deriveTally({ ...NO_FACTS, ...facts })), [facts]);
  const { ref } = useCanvas(HEIGHT, (canvas, palette) => {
    const scale = HEIGHT / (layoutBand(1, { start: 0, count: 1 }, 1, 0).base + BELOW);
    const layout = layoutBand(WIDTH / scale, { start: 0, count: 1 }, 1, 0);
    canvas.scale(scale, scale);
    paint(
      canvas,
      drawStrokes({
        data,
        layout,
        selection: EMPTY,
        focus: null,
        progress: new Map([[1, 0.6]]),
        savedShare: () => null,
      }).filter((mark) => mark.kind !== "text"),
      palette,
    );
  });
  return <canvas ref={ref} aria-hidden style={{ width: WIDTH, height: HEIGHT }} />;
}
