"use client";
/** The facts of the focused frame, beside its picture. */
import { Box } from "@chakra-ui/react";
import { useSyncExternalStore } from "react";
import type { FileOfFrame } from "../live/files-by-frame";
import { liveState, subscribeLive } from "../live/live-store";
import { count, duration } from "../words";

/** The frame under the focus in words, with its progress while it renders. */
export function FocusNote({
  frame,
  note,
  samples,
  made,
  leadId,
}: {
  readonly frame: number | null;
  /** Result and activity in words. */
  readonly note: string | null;
  readonly samples: number | null;
  readonly made: Pick<FileOfFrame, "node" | "seconds"> | null;
  /** The sequence that progress is told under. */
  readonly leadId: number;
}) {
  const percent = useSyncExternalStore(
    subscribeLive,
    () => {
      const found = liveState().rendering.find(
        (r) => r.sequenceId === leadId && !r.isProof && !r.isLight && r.frame === frame,
      );
      return found === undefined ? null : Math.round(found.progress * 100);
    },
    () => null,
  );
  if (frame === null || note === null) return null;
  return (
    <Box data-testid="focused-frame">
      <Box fontFamily="mono" color="ink">
        {frame}
      </Box>
      <Box>
        {note}
        {percent === null ? "" : ` ${percent} %`}
      </Box>
      {made !== null && (made.node !== null || made.seconds !== null) && (
        <Box className="figures" truncate>
          {/* Where room is short the name is cut, never the figure. */}
          {[made.seconds === null ? null : duration(made.seconds), made.node]
            .filter((part) => part !== null)
            .join(" · ")}
        </Box>
      )}
      {samples !== null && (
        <Box className="figures">
          {count(samples)} {samples === 1 ? "sample" : "samples"}
        </Box>
      )}
    </Box>
  );
}
