"use client";
/** Rejecting frames by hand: the reason in one line, then they are on the patch list. */
import { useMutation } from "@tanstack/react-query";
import type { FindingPlace } from "@/contract/sequence-view";
import type { FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { post } from "../live/api";
import { ReasonForm } from "../page/reason-form";
import { count } from "../words";

/**
 * The reason is asked for, as the one who patches is often another one. What was typed stays when the server
 * refuses.
 */
export function FlagForm({
  sequenceId,
  frames,
  place = null,
  onDone,
}: {
  readonly sequenceId: number;
  /** Those that were selected when the form was opened. */
  readonly frames: FrameSet;
  /** Where in the picture; null: all of it. */
  readonly place?: FindingPlace | null;
  /** Flagged, or left as it was. */
  readonly onDone: () => void;
}) {
  const flag = useMutation({
    mutationFn: (reason: string) =>
      post<{ flagged: string }>(`/api/sequences/${sequenceId}/flags`, {
        phrase: formatPhrase(frames),
        reason,
        ...(place === null ? {} : { place }),
      }),
    onSuccess: onDone,
  });
  const which = frames.count === 1 ? `frame ${formatPhrase(frames)}` : `these ${count(frames.count)} frames`;
  return (
    <ReasonForm
      lead={`Flag ${place === null ? "" : "what is drawn on "}${which} because`}
      action="Flag"
      canSend={frames.count > 0}
      isSending={flag.isPending}
      error={flag.error}
      onSend={flag.mutate}
      onLeave={onDone}
    />
  );
}
