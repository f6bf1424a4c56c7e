"use client";
/**
 * The same facts as the canvas, as a grid for keys, screen readers and tests. Only the window's frames are in
 * it.
 * A canvas says nothing to a screen reader. The grid says the same words as the key in Help, and moves with
 * the window: what is outside of it has no cell, as it has no stroke.
 */
import { VisuallyHidden } from "@chakra-ui/react";
import { memo } from "react";
import { type FrameSet, has } from "@/core/frames/frame-set";
import { activityAt, type BandData, resultAt } from "./band-data";
import type { BandWindow } from "./layout";

/** What aria-activedescendant points at. */
export const cellId = (bandId: string, frame: number): string => `${bandId}-${frame}`;

/** Hidden from the eye, not from anything else: each cell says its number, result and activity in words. */
export const BandGrid = memo(function BandGrid({
  id,
  data,
  window,
  selection,
}: {
  readonly id: string;
  readonly data: BandData;
  readonly window: BandWindow;
  readonly selection: FrameSet;
}) {
  const cells = [];
  for (let position = window.start; position < window.start + window.count; position++) {
    const frame = data.index.frameAt(position);
    if (frame === null) break;
    const result = resultAt(data, position);
    const activity = activityAt(data, position);
    cells.push(
      <span
        key={frame}
        id={cellId(id, frame)}
        role="gridcell"
        aria-selected={has(selection, frame)}
        data-frame={frame}
        data-result={result}
        data-activity={activity}
      >
        {`${frame} ${result}${activity === "idle" ? "" : `, ${activity}`}`}
      </span>,
    );
  }
  return (
    <VisuallyHidden asChild>
      <div role="row">{cells}</div>
    </VisuallyHidden>
  );
});
