"use client";
/** The viewer's buttons, each with its key, and the keys. */
import { Button, HStack } from "@chakra-ui/react";
import { Tip } from "../theme/tip";
import { useKeys } from "../page/use-keys";
import type { Player, PlayerSnapshot } from "./player";

/** Frames that an arrow key moves by with Shift, as on the band. */
const WIDE_STEP = 10;
/** Of the exposure, by its keys. */
const STOP = 0.5;

export interface LookControlsProps {
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
  readonly onFinding: (direction: 1 | -1) => void;
  readonly onFlag: () => void;
  /** Takes the frame's flags back. */
  readonly onGood: () => void;
  /** Whether the file that was replaced is shown; null where none is kept. */
  readonly isBefore: boolean | null;
  readonly onBefore: () => void;
  /** Null where there is nothing to save. */
  readonly onSave: (() => void) | null;
  readonly onStops: (by: number) => void;
  /** The next drag draws a rectangle. */
  readonly isDrawing: boolean;
  readonly onDrawing: () => void;
  readonly onFit: () => void;
  readonly onEnlarge: (by: number) => void;
  readonly onFullScreen: () => void;
  readonly onClose: () => void;
}

/** Buttons and keys do the same things, from one list. */
export function LookControls(props: LookControlsProps) {
  const { player, now, rate, isMarked, onFlag, onGood, isBefore, onBefore, onSave, onClose } = props;
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
    f: onFlag,
    g: onGood,
    b: onBefore,
    s: () => onSave?.(),
    "[": () => props.onFinding(-1),
    "]": () => props.onFinding(1),
    r: props.onDrawing,
    "+": () => props.onEnlarge(2),
    "-": () => props.onEnlarge(0.5),
    "0": props.onFit,
    ",": () => props.onStops(-STOP),
    ".": () => props.onStops(STOP),
    w: props.onFullScreen,
  });
  const button = (label: string, tip: string, act: () => void) => (
    <Tip text={tip}>
      <Button size="xs" variant="outline" onClick={act}>
        {label}
      </Button>
    </Tip>
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
      {isMarked && button("Whole", "Play the whole sequence again", props.onWhole)}
      {button("‹ finding", "The finding before ([)", () => props.onFinding(-1))}
      {button("finding ›", "The next finding (])", () => props.onFinding(1))}
      {button("Flag", "Reject this frame, with a reason (F)", onFlag)}
      {button("Good", "Take its flags back (G)", onGood)}
      {button(
        props.isDrawing ? "Drag on it…" : "Rectangle",
        "Draw a rectangle on the picture: it is measured, and may be flagged with a note (R)",
        props.onDrawing,
      )}
      {isBefore !== null &&
        button(isBefore ? "Now" : "Before", "Shows the file that this one replaced, and back (B)", onBefore)}
      {button("Fit", "All of the picture (0; the wheel, + and - enlarge and make smaller)", props.onFit)}
      {button("Wide", "The whole screen, and back (W)", props.onFullScreen)}
      {onSave !== null && button("Save…", "Save this picture as a file (S)", onSave)}
      {button("Close", "Back to the bench (Escape)", onClose)}
    </HStack>
  );
}
