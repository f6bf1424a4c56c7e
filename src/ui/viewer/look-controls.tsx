"use client";
/** What can be done with a frame of a sequence while one looks, beside playing it; each with its key. */
import { Transport, type TransportProps, ViewerButton } from "./transport";

export interface LookControlsProps extends TransportProps {
  readonly onFinding: (direction: 1 | -1) => void;
  readonly onFlag: () => void;
  /** Takes the frame's flags back. */
  readonly onGood: () => void;
  /** Whether the file that was replaced is shown; null where none is kept. */
  readonly isBefore: boolean | null;
  readonly onBefore: () => void;
  /** Null where there is nothing to save. */
  readonly onSave: (() => void) | null;
  /** The next drag draws a rectangle. */
  readonly isDrawing: boolean;
  readonly onDrawing: () => void;
}

/** Buttons and keys do the same things, from one list. */
export function LookControls({
  onFinding,
  onFlag,
  onGood,
  isBefore,
  onBefore,
  onSave,
  isDrawing,
  onDrawing,
  ...transport
}: LookControlsProps) {
  const button = (label: string, tip: string, act: () => void) => (
    <ViewerButton label={label} tip={tip} act={act} />
  );
  return (
    <Transport
      {...transport}
      keys={{
        f: onFlag,
        g: onGood,
        b: onBefore,
        s: () => onSave?.(),
        r: onDrawing,
        "[": () => onFinding(-1),
        "]": () => onFinding(1),
      }}
    >
      {button("‹ finding", "The finding before ([)", () => onFinding(-1))}
      {button("finding ›", "The next finding (])", () => onFinding(1))}
      {button("Flag", "Reject this frame, with a reason (F)", onFlag)}
      {button("Good", "Take its flags back (G)", onGood)}
      {button(
        isDrawing ? "Drag on it…" : "Rectangle",
        "Draw a rectangle on the picture: it is measured, and may be flagged with a note (R)",
        onDrawing,
      )}
      {isBefore !== null &&
        button(isBefore ? "Now" : "Before", "Shows the file that this one replaced, and back (B)", onBefore)}
      {onSave !== null && button("Save…", "Save this picture as a file (S)", onSave)}
    </Transport>
  );
}
