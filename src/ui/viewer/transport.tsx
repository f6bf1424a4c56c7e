"use client";
/** Buttons and keys of whatever plays: step, play, in and out, zoom, exposure, the whole screen. */
import { Button, HStack } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { type Keys, useKeys } from "../page/use-keys";
import { Tip } from "../theme/tip";
import type { Player, PlayerSnapshot } from "./player";

/** Frames that an arrow key moves by with Shift, as on the band. */
const WIDE_STEP = 10;

export interface TransportProps {
  readonly player: Player;
  readonly now: PlayerSnapshot;
  /** What it plays at. */
  readonly rate: string;
  /** Only a part is played. */
  readonly isMarked: boolean;
  readonly onIn: () => void;
  readonly onOut: () => void;
  readonly onWhole: () => void;
  readonly onEnd: (which: "first" | "last") => void;
  readonly onStops: (way: 1 | -1) => void;
  readonly onFit: () => void;
  readonly onEnlarge: (by: number) => void;
  readonly onFullScreen: () => void;
  readonly onClose: () => void;
}

/** A button of the viewer: what it does, and its key. */
export function ViewerButton({
  label,
  tip,
  act,
}: {
  readonly label: string;
  readonly tip: string;
  readonly act: () => void;
}) {
  return (
    <Tip text={tip}>
      <Button size="xs" variant="outline" onClick={act}>
        {label}
      </Button>
    </Tip>
  );
}

/** @param props.keys and `children`: what there is besides */
export function Transport({
  keys,
  children,
  ...props
}: TransportProps & { readonly keys: Keys; readonly children?: ReactNode }) {
  const { player, now, rate, isMarked } = props;
  const { place } = now;
  useKeys({
    ArrowLeft: (e) => player.goTo(place - (e.shiftKey ? WIDE_STEP : 1)),
    ArrowRight: (e) => player.goTo(place + (e.shiftKey ? WIDE_STEP : 1)),
    Home: () => props.onEnd("first"),
    End: () => props.onEnd("last"),
    " ": () => (now.direction === 0 ? player.play(1) : player.stop()),
    j: () => player.play(-1),
    k: () => player.stop(),
    l: () => player.play(1),
    i: props.onIn,
    o: props.onOut,
    "+": () => props.onEnlarge(2),
    "-": () => props.onEnlarge(0.5),
    "0": props.onFit,
    ",": () => props.onStops(-1),
    ".": () => props.onStops(1),
    w: props.onFullScreen,
    ...keys,
  });
  const button = (label: string, tip: string, act: () => void) => (
    <ViewerButton label={label} tip={tip} act={act} />
  );
  return (
    <HStack gap="1.5" flexWrap="wrap">
      {button("◂ play", "Play backwards (J)", () => player.play(-1))}
      {button("‹", "One frame back (left arrow; with Shift ten)", () => player.goTo(place - 1))}
      {now.direction === 0
        ? button("Play", `Play at ${rate} a second (Space, L)`, () => player.play(1))
        : button("Stop", "Stop (Space, K)", () => player.stop())}
      {button("›", "One frame on (right arrow; with Shift ten)", () => player.goTo(place + 1))}
      {button("In", "Play from here (I)", props.onIn)}
      {button("Out", "Play up to here (O)", props.onOut)}
      {isMarked && button("Whole", "Play all of it again", props.onWhole)}
      {children}
      {button("−", "Smaller (-, or the wheel)", () => props.onEnlarge(0.5))}
      {button("+", "Larger (+, or the wheel)", () => props.onEnlarge(2))}
      {button("Fit", "All of the picture (0)", props.onFit)}
      {button("Wide", "The whole screen, and back (W)", props.onFullScreen)}
      {button("Close", "Back to where you came from (Escape)", props.onClose)}
    </HStack>
  );
}
