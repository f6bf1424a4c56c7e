"use client";
/** The band of the sequence that the page shows, under the page and as the viewer's scrubber. */
import { type ReactNode, useMemo } from "react";
import { type FrameSet, setOf } from "@/core/frames/frame-set";
import { useOdd } from "../check/use-odd";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { useSoundLane } from "./use-sound-lane";
import { Band } from "../band/band";

/** One band for both, so that what is selected while looking is selected after it. */
export function ShotBand({
  focus,
  onFocus,
  onLook,
  withLanes = true,
  loaded = null,
  picture,
}: {
  readonly focus: number | null;
  readonly onFocus: (frame: number) => void;
  /** By a double click. */
  readonly onLook: (frame: number) => void;
  readonly withLanes?: boolean;
  /** Pictures that the viewer has in memory. */
  readonly loaded?: FrameSet | null;
  readonly picture?: ReactNode;
}) {
  const { stretches, used, bench } = useShotWork();
  const { view, tally, files, saved } = useSequenceNow();
  const { selection } = usePointed();
  const sound = useSoundLane();
  const found = useOdd(view.id, bench === "check").data;
  const odd = useMemo(
    () =>
      found === undefined
        ? null
        : setOf(found.odd.filter(({ state }) => state === "open").map(({ frame }) => frame)),
    [found],
  );
  return (
    <Band
      sequenceId={view.id}
      leadId={view.leadId}
      tally={tally}
      files={files}
      saved={saved}
      markers={stretches}
      used={used}
      sound={sound}
      odd={odd}
      selection={selection.set}
      focus={focus}
      onSelect={selection.pick}
      onFocus={onFocus}
      onLook={onLook}
      withLanes={withLanes}
      loaded={loaded}
      picture={picture}
    />
  );
}
