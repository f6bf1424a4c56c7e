"use client";
/** What was handed over: where it lies, what it was made from, and whether frames under it have changed since. */
import { Box, Button, Flex, Progress, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { HandoverView } from "@/contract/handover";
import { isOver, isUnderWay } from "@/core/handover/handover-life";
import { wishWord } from "@/core/handover/handover-name";
import { get, messageOf } from "../live/api";
import { Copy } from "../page/copy";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { clock, count, duration, size } from "../words";
import { handoverFile, handoverLogKey, type HandoverDeeds } from "./use-handovers";
import { UNDERLINED } from "../theme/underlined";

const GAPS_WORD = { stop: "", hold: ", gaps held", card: ", gaps as cards" } as const;

/** What became of it, in a few words. */
function stateText(handover: HandoverView, now: number): string {
  switch (handover.state) {
    case "awaiting":
      return `waits for run ${handover.runId ?? ""}`;
    case "waiting":
      return "waits for a node";
    case "leased":
      return handover.node === null ? "is made by a command" : `is made by ${handover.node}`;
    case "done":
      return handover.endedAt === null ? "made" : `made ${clock(handover.endedAt, now)}`;
    case "failed":
      return "was not made";
    case "stopped":
      return "stopped";
  }
}

function HandoverLog({ id }: { readonly id: number }) {
  const log = useQuery({
    queryKey: handoverLogKey(id),
    queryFn: ({ signal }) => get<{ readonly text: string }>(`/api/handovers/${id}/log`, signal),
  });
  if (log.error !== null) return <Refusal>{messageOf(log.error)}</Refusal>;
  return (
    <Box
      as="pre"
      fontFamily="mono"
      fontSize="xs"
      whiteSpace="pre-wrap"
      overflowWrap="anywhere"
      maxH="160px"
      overflowY="auto"
      tabIndex={0}
      aria-label="Log"
      borderLeftWidth="2px"
      borderColor="rule"
      pl="2"
      my="1"
    >
      {log.data === undefined
        ? "Loading the log."
        : log.data.text === ""
          ? "Nothing was said."
          : log.data.text}
    </Box>
  );
}

function HandoverLine({
  handover,
  deeds,
}: {
  readonly handover: HandoverView;
  readonly deeds: HandoverDeeds;
}) {
  const now = useNow();
  const [isLogOpen, setLogOpen] = useState(false);
  const { id, wish, state, result, fault, progress, isOutOfDate } = handover;
  const isEnded = isOver(state);
  return (
    <Box py="2" {...UNDERLINED} data-testid="handover" data-state={state}>
      <Flex gap="3" align="baseline" justify="space-between">
        <Text fontWeight="700" minW="0" overflowWrap="anywhere">
          {handover.name ?? handover.path.split("/").at(-1)}
        </Text>
        <Text color="softInk" fontSize="xs" flexShrink={0} className="figures">
          {now === null ? "" : stateText(handover, now)}
        </Text>
      </Flex>
      <Text color="softInk" fontSize="sm" className="figures">
        {wishWord(wish)} of {wish.frames}
        {GAPS_WORD[wish.gaps]}
        {result === null
          ? ""
          : ` · ${count(result.frames)} pictures, ${duration(result.seconds)} · ${size(result.bytes)}`}
        {handover.who === null ? "" : ` · ${handover.who}`}
      </Text>
      {isUnderWay(state) && (
        <Progress.Root
          value={(progress ?? 0) * 100}
          size="sm"
          my="1"
          aria-label={`Progress of ${handover.name ?? id}`}
        >
          <Progress.Track>
            <Progress.Range bg="petrol" />
          </Progress.Track>
        </Progress.Root>
      )}
      {handover.held !== null && <Text color="ochre">{handover.held}</Text>}
      {fault !== null && <Refusal>{fault.message}</Refusal>}
      {result?.warnings.map((warning) => (
        <Text key={warning} fontSize="sm" color="ochre">
          {warning}
        </Text>
      ))}
      {isOutOfDate === true && (
        <Text color="ochre" data-testid="out-of-date">
          Out of date: frames under it have changed since.
        </Text>
      )}
      {state === "done" && (
        <Flex gap="2" align="baseline">
          <Text fontFamily="mono" fontSize="xs" overflowWrap="anywhere" minW="0">
            {handover.path}
          </Text>
          <Copy text={handover.path} what={`path of ${handover.name ?? "the file"}`} />
        </Flex>
      )}
      <Flex gap="3" mt="0.5" flexWrap="wrap">
        {handover.isHere && (
          <Button asChild size="xs" variant="plain" px="0">
            <a href={handoverFile(id)} download>
              {wish.as === "frames" ? "Download as ZIP" : "Download"}
            </a>
          </Button>
        )}
        {state === "done" && (
          <Button
            size="xs"
            variant={isOutOfDate === true ? "outline" : "plain"}
            px={isOutOfDate === true ? "2" : "0"}
            onClick={() => deeds.again.mutate(id)}
          >
            Make again
          </Button>
        )}
        {(state === "failed" || state === "stopped") && (
          <Button size="xs" variant="plain" px="0" onClick={() => deeds.again.mutate(id)}>
            Try again
          </Button>
        )}
        {!isEnded && (
          <Button size="xs" variant="plain" px="0" onClick={() => deeds.stop.mutate(id)}>
            Cancel
          </Button>
        )}
        {isEnded && (
          <>
            <Button
              size="xs"
              variant="plain"
              px="0"
              aria-expanded={isLogOpen}
              onClick={() => setLogOpen(!isLogOpen)}
            >
              {isLogOpen ? "Hide the log" : "Log"}
            </Button>
            <Button
              size="xs"
              variant="plain"
              px="0"
              aria-label={`Take ${handover.name ?? "it"} off the list; its file stays`}
              onClick={() => deeds.forget.mutate(id)}
            >
              Off the list
            </Button>
          </>
        )}
      </Flex>
      {isLogOpen && <HandoverLog id={id} />}
    </Box>
  );
}

/** The newest first. */
export function HandoverList({
  handovers,
  deeds,
}: {
  readonly handovers: readonly HandoverView[];
  readonly deeds: HandoverDeeds;
}) {
  const error = deeds.again.error ?? deeds.stop.error ?? deeds.forget.error;
  return (
    <>
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      {handovers.length === 0 && <Text color="softInk">Nothing was handed over yet.</Text>}
      {handovers.map((handover) => (
        <HandoverLine key={handover.id} handover={handover} deeds={deeds} />
      ))}
    </>
  );
}
