"use client";
/** What happened to the frame that is looked at: its attempts, who said what of it, what replaced what. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { FrameEvent, FrameHistoryView } from "@/contract/frame-history";
import type { Measures } from "@/core/image/measure-picture";
import { get, messageOf } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Caption, Line } from "../page/bench";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { usePointed, useSequenceNow } from "../shot/shot-context";
import { clock, count, duration, size } from "../words";
import { eventText } from "./event-text";
import { UNDERLINED } from "../theme/underlined";

const ANEW_MS = 5_000;

const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 2 : 1)} %`;

const measuresText = ({ luminance, noise, black, clipped, hot, nan, alpha }: Measures): string =>
  [
    `brightness ${percent(luminance)}`,
    `grain ${percent(noise)}`,
    `black ${percent(black)}`,
    `at white ${percent(clipped)}`,
    `${count(hot)} hot`,
    `${count(nan)} no numbers`,
    ...(alpha === null ? [] : [`alpha ${percent(alpha)}`]),
  ].join(", ");

export function FrameHistory({ isShown }: { readonly isShown: boolean }) {
  const { view } = useSequenceNow();
  const { focus } = usePointed();
  const [isOpen, setOpen] = useState(false);
  const { data, error } = useQuery({
    queryKey: queryKeys.history(view.id, focus ?? 0),
    queryFn: ({ signal }) =>
      get<FrameHistoryView>(`/api/sequences/${view.id}/frames/${focus}/history`, signal),
    enabled: isShown && isOpen && focus !== null,
    refetchInterval: ANEW_MS,
  });
  if (focus === null) return null;
  return (
    <Box mt="5" data-testid="history">
      <Flex justify="space-between" align="baseline">
        <Caption>What happened to frame {focus}</Caption>
        <Button size="xs" variant="plain" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Hide it" : "Show it"}
        </Button>
      </Flex>
      {isOpen && error !== null && <Refusal>{messageOf(error)}</Refusal>}
      {isOpen && error === null && data === undefined && <Text color="softInk">Loading its history.</Text>}
      {isOpen && data !== undefined && <Told told={data} />}
    </Box>
  );
}

function Told({ told: { file, measures, events } }: { readonly told: FrameHistoryView }) {
  const now = useNow();
  return (
    <>
      <Line label="File">
        {file === null
          ? "none"
          : [
              file.name,
              size(file.bytes),
              ...(file.node === null ? [] : [`by ${file.node}`]),
              ...(file.samples === null ? [] : [`${count(file.samples)} samples`]),
              ...(file.seconds === null ? [] : [duration(file.seconds)]),
            ].join(", ")}
      </Line>
      {measures !== null && <Line label="Measured">{measuresText(measures)}</Line>}
      {events.length === 0 && <Text color="softInk">Nothing was ever done to it here.</Text>}
      {events.map((event, i) => (
        <Event key={`${event.kind} ${event.at} ${i}`} event={event} now={now} />
      ))}
    </>
  );
}

function Event({ event, now }: { readonly event: FrameEvent; readonly now: number | null }) {
  return (
    <Flex gap="3" py="1" align="baseline" {...UNDERLINED} data-testid="history-line">
      <Text color="softInk" fontSize="xs" className="figures" w="110px" flexShrink={0}>
        {now === null ? "" : clock(event.at, now)}
      </Text>
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {eventText(event)}
      </Box>
    </Flex>
  );
}
