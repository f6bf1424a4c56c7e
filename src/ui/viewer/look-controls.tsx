"use client";
/** The viewer's buttons, each with its key, and the keys. */
import { Button, HStack } from "@chakra-ui/react";
import { rateText } from "@/core/timing/rate";
import { useShotWork } from "../shot/shot-context";
import { useKeys } from "../page/use-keys";
import { Tip } from "../theme/tip";
import type { PlayHead } from "./use-play-head";

/** Frames that an arrow key moves by with Shift, as on the band. */
const WIDE_STEP = 10;

export interface LookControlsProps {
  /** Where the viewer stands and how it moves. */
  readonly head: PlayHead;
  readonly onFlag: () => void;
  /** Takes the frame's flags back. */
  readonly onGood: () => void;
  /** Whether the file that was replaced is shown; null where none is kept. */
  readonly isBefore: boolean | null;
  readonly onBefore: () => void;
  /** Null where there is nothing to save. */
  readonly onSave: (() => void) | null;
  readonly onClose: () => void;
}

/** Buttons and keys do the same things, from one list. */
export function LookControls({
  head,
  onFlag,
  onGood,
  isBefore,
  onBefore,
  onSave,
  onClose,
}: LookControlsProps) {
  const rate = rateText(useShotWork().shot.plan.rate);
  const { position, player } = head;
  useKeys({
    ArrowLeft: (e) => head.goTo(position - (e.shiftKey ? WIDE_STEP : 1)),
    ArrowRight: (e) => head.goTo(position + (e.shiftKey ? WIDE_STEP : 1)),
    Home: () => head.goToEnd("first"),
    End: () => head.goToEnd("last"),
    " ": () => (player.direction === 0 ? player.play(1) : player.stop()),
    j: () => player.play(-1),
    k: () => player.stop(),
    l: () => player.play(1),
    i: head.markIn,
    o: head.markOut,
    f: onFlag,
    g: onGood,
    b: onBefore,
    s: () => onSave?.(),
    "[": () => head.goToFinding(-1),
    "]": () => head.goToFinding(1),
  });
  const button = (label: string, tip: string, act: () => void) => (
    <Tip text={tip}>
      <Button size="xs" variant="outline" onClick={act}>
        {label}
      </Button>
    </Tip>
  );
  return (
    <HStack ml={{ lg: "auto" }} gap="2" flexWrap="wrap">
      {button("◂ play", "Play backwards (J)", () => player.play(-1))}
      {button("‹", "One frame back (left arrow; with Shift ten)", () => head.goTo(position - 1))}
      {player.direction === 0
        ? button("Play", `Play at ${rate} a second (Space, L)`, () => player.play(1))
        : button("Stop", "Stop (Space, K)", player.stop)}
      {button("›", "One frame on (right arrow; with Shift ten)", () => head.goTo(position + 1))}
      {button("In", "Play from here (I)", head.markIn)}
      {button("Out", "Play up to here (O)", head.markOut)}
      {head.between !== null && button("Whole", "Play the whole sequence again", head.forgetMarks)}
      {button("‹ finding", "The finding before ([)", () => head.goToFinding(-1))}
      {button("finding ›", "The next finding (])", () => head.goToFinding(1))}
      {button("Flag", "Reject this frame, with a reason (F)", onFlag)}
      {button("Good", "Take its flags back (G)", onGood)}
      {isBefore !== null &&
        button(isBefore ? "Now" : "Before", "Shows the file that this one replaced, and back (B)", onBefore)}
      {onSave !== null && button("Save…", "Save this picture as a file (S)", onSave)}
      {button("Close", "Back to the bench (Escape)", onClose)}
    </HStack>
  );
}
