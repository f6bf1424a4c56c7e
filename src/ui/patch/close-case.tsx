"use client";
/** The end of a patch: a report of what was wrong and what was made again, with which the files from before go. */
import { Box, Button, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { AsideFilesView } from "@/contract/sequence-view";
import { messageOf, post } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Refusal } from "../page/states";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { frames, size } from "../words";

export function CloseCase({ aside }: { readonly aside: AsideFilesView }) {
  const { view } = useSequenceNow();
  const { openBench } = useShotWork();
  const client = useQueryClient();
  const close = useMutation({
    mutationFn: () =>
      post<{ path: string }>(`/api/sequences/${view.id}/handovers`, { as: "case", frames: "all" }),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.asides }),
  });
  // Of frames from elsewhere small pictures alone are kept, and stay.
  const waiting = aside.areSmall ? 0 : aside.names.length;
  if (aside.count === 0) return null;
  return (
    <Box mt="2" data-testid="close-case">
      <Button
        size="xs"
        variant="outline"
        disabled={waiting > 0}
        loading={close.isPending}
        onClick={() => close.mutate()}
      >
        Close the case
      </Button>
      <Text fontSize="xs" color="softInk" mt="1">
        {waiting > 0
          ? `Once ${frames(waiting)} are accepted or undone: a report with pictures of before and now.`
          : `A report with pictures of before and now${aside.accepted > 0 ? `; the ${size(aside.bytes)} that are kept go once it is written` : ""}.`}
      </Text>
      {close.isSuccess && (
        <Text mt="1" role="status">
          The report is under way.{" "}
          <Button size="xs" variant="plain" onClick={() => openBench("handover")}>
            See it on Hand over
          </Button>
        </Text>
      )}
      {close.error !== null && <Refusal>{messageOf(close.error)}</Refusal>}
    </Box>
  );
}
