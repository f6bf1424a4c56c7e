"use client";
/** Rejecting frames by hand: the reason in one line, then they are on the patch list. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { BOUNDS } from "@/contract/bounds";
import type { FindingPlace } from "@/contract/sequence-view";
import type { FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { messageOf, post } from "../live/api";
import { Refusal } from "../page/states";
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
  const [reason, setReason] = useState("");
  const flag = useMutation({
    mutationFn: () =>
      post<{ flagged: string }>(`/api/sequences/${sequenceId}/flags`, {
        phrase: formatPhrase(frames),
        reason,
        ...(place === null ? {} : { place }),
      }),
    onSuccess: onDone,
  });
  const isBlank = reason.trim() === "";
  return (
    <Box asChild mt="2">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!isBlank) flag.mutate();
        }}
      >
        <Flex gap="3" align="center">
          <Text>
            Flag {place === null ? "" : "what is drawn on "}
            {frames.count === 1
              ? `frame ${formatPhrase(frames)}`
              : `these ${count(frames.count)} frames`}{" "}
            because
          </Text>
          <Input
            autoFocus
            size="sm"
            w="360px"
            bg="sheet"
            color="ink"
            aria-label="Reason"
            maxLength={BOUNDS.reason}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== "Escape") return;
              event.stopPropagation();
              onDone();
            }}
          />
          <Button type="submit" size="xs" disabled={isBlank || frames.count === 0} loading={flag.isPending}>
            Flag
          </Button>
          <Button size="xs" variant="plain" onClick={onDone}>
            Leave it
          </Button>
        </Flex>
        {flag.error !== null && <Refusal>{messageOf(flag.error)}</Refusal>}
      </form>
    </Box>
  );
}
