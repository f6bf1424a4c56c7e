"use client";
/** What can be done with a frame of a sequence while one looks, beside playing it: a button for each key. */
import type { Keys } from "../page/use-keys";
import { ViewerButton } from "./transport";

export interface LookActs {
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

export const lookKeys = (acts: LookActs): Keys => ({
  f: acts.onFlag,
  g: acts.onGood,
  b: acts.onBefore,
  s: () => acts.onSave?.(),
  r: acts.onDrawing,
  "[": () => acts.onFinding(-1),
  "]": () => acts.onFinding(1),
});

export function LookButtons(acts: LookActs) {
  const { isBefore, isDrawing, onSave } = acts;
  return (
    <>
      <ViewerButton label="‹ finding" tip="The finding before ([)" act={() => acts.onFinding(-1)} />
      <ViewerButton label="finding ›" tip="The next finding (])" act={() => acts.onFinding(1)} />
      <ViewerButton label="Flag" tip="Reject this frame, with a reason (F)" act={acts.onFlag} />
      <ViewerButton label="Good" tip="Take its flags back (G)" act={acts.onGood} />
      <ViewerButton
        label={isDrawing ? "Drag on it…" : "Rectangle"}
        tip="Draw a rectangle on the picture: it is measured, and may be flagged with a note (R)"
        act={acts.onDrawing}
      />
      {isBefore !== null && (
        <ViewerButton
          label={isBefore ? "Now" : "Before"}
          tip="Shows the file that this one replaced, and back (B)"
          act={acts.onBefore}
        />
      )}
      {onSave !== null && <ViewerButton label="Save…" tip="Save this picture as a file (S)" act={onSave} />}
    </>
  );
}
