/**
 * Address of what there is so far of a frame that renders now or was stopped, or null. It changes when there
 * is more to see.
 */
import { useSyncExternalStore } from "react";
import { soFarUrl } from "../live/api";
import { liveState, subscribeLive } from "../live/live-store";
import { useSequenceNow } from "./shot-context";

/** Nodes send a picture about as often. */
const LOOK_SECONDS = 3;

/** @returns null where the frame is neither in work nor stopped with samples kept */
export function useSoFar(frame: number | null): string | null {
  const { view, saved } = useSequenceNow();
  const turn = useSyncExternalStore(
    subscribeLive,
    () => {
      const found = liveState().rendering.find(
        (r) => r.sequenceId === view.leadId && !r.isProof && !r.isLight && r.frame === frame,
      );
      return found === undefined ? null : Math.floor(found.seconds / LOOK_SECONDS);
    },
    () => null,
  );
  if (frame === null) return null;
  const kept = saved.at(frame);
  if (turn !== null) return soFarUrl(view.id, frame, `renders-${turn}`);
  return kept === null ? null : soFarUrl(view.id, frame, `${kept.samples}-${kept.share}`);
}
