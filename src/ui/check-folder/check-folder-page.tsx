"use client";
/** Check a folder: one of this computer, listed and judged by the browser alone. */
import { Box, Button, Flex, Heading, Progress, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import { difference, type FrameSet, rangeSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { Proposal } from "@/core/naming/proposals";
import { countsOf, deriveTally, NO_FACTS, todoOf } from "@/core/tally/tally";
import { BandLine } from "../band/band-line";
import { DropArea } from "../page/drop-area";
import { Copy } from "../page/copy";
import { saveText } from "../page/save-text";
import { Header } from "../page/header";
import { Refusal } from "../page/states";
import { SentenceText } from "../shot/sentence";
import { count, duration, frames, size } from "../words";
import { droppedEntries } from "../page/dropped-entries";
import { filesOfInput } from "./folder-files";
import { type CheckedFile, type FolderState, useFolderCheck } from "./use-folder-check";

const BAND_HEIGHT = 22;
/** Lines of what is wrong; all of it is in the report. */
const SHOWN = 200;
/** A stray number must not draw a million dots. */
const MOST_DRAWN = 1_000_000;

function SequenceLine({
  proposal: { folder, found, camera, pass },
  damaged,
  unlooked,
}: {
  readonly proposal: Proposal;
  readonly damaged: FrameSet;
  readonly unlooked: FrameSet;
}) {
  const tally = useMemo(() => {
    const [first, last] = [found.files[0]!.frame, found.files.at(-1)!.frame];
    return deriveTally({
      ...NO_FACTS,
      asked: last - first < MOST_DRAWN ? rangeSet(first, last) : found.frames,
      files: found.frames,
      unlooked: difference(unlooked, damaged),
      rejected: damaged,
    });
  }, [found, damaged, unlooked]);
  const todo = formatPhrase(todoOf(tally));
  const odd = [
    ...(found.widths.length < 2 ? [] : [`numbers of ${found.widths.join(" and ")} digits`]),
    ...(found.doubles.length === 0 ? [] : [`${frames(found.doubles.length)} there twice`]),
  ].join("; ");
  return (
    <Box as="li" borderTopWidth="1px" borderColor="rule" py="2" data-testid="checked-sequence">
      <Flex gap="3" justify="space-between" align="baseline">
        <Text fontFamily="mono" fontSize="sm" fontWeight="700" truncate>
          {folder === "" ? "" : `${folder}/`}
          {found.name}
        </Text>
        <Text fontSize="xs" color="softInk" className="figures" whiteSpace="nowrap">
          {camera} {pass} · {found.files[0]!.frame}-{found.files.at(-1)!.frame} · {size(found.bytes)}
        </Text>
      </Flex>
      <BandLine tally={tally} height={BAND_HEIGHT} />
      <Flex gap="4" fontSize="sm" align="baseline" flexWrap="wrap">
        <SentenceText counts={countsOf(tally)} />
        {odd !== "" && <Text color="ochre">{odd}</Text>}
        {todo !== "" && (
          <Flex gap="2" align="baseline" minW="0">
            <Text fontFamily="mono" fontSize="xs" truncate maxW="420px">
              {todo}
            </Text>
            <Copy text={todo} what={`frames of ${found.name}`} />
          </Flex>
        )}
      </Flex>
    </Box>
  );
}

function ToldFiles({ told }: { readonly told: readonly CheckedFile[] }) {
  if (told.length === 0) return null;
  return (
    <Box as="section" aria-label="Files with something to be told" mt="5">
      <Heading as="h2" fontSize="md" mb="1">
        What was found
      </Heading>
      <Box as="ul" listStyleType="none">
        {told.slice(0, SHOWN).map(({ path, verdict }) => (
          <Flex as="li" key={path} gap="4" borderTopWidth="1px" borderColor="rule" py="1" align="baseline">
            <Text fontFamily="mono" fontSize="xs" w="42%" flexShrink={0} truncate title={path}>
              {path}
            </Text>
            <Text
              fontSize="sm"
              color={
                verdict.verdict === "damaged" ? "brick" : verdict.verdict === "good" ? "softInk" : "ochre"
              }
            >
              {verdict.verdict === "good"
                ? `good; ${verdict.notes.join("; ")}`
                : `${verdict.verdict === "damaged" ? "" : "not checked: "}${verdict.detail}`}
            </Text>
          </Flex>
        ))}
      </Box>
      {told.length > SHOWN && (
        <Text color="softInk" fontSize="sm">
          and {count(told.length - SHOWN)} more, in the report
        </Text>
      )}
    </Box>
  );
}

function Going({ state, onStop }: { readonly state: FolderState; readonly onStop: () => void }) {
  if (state.step === "listing")
    return (
      <Flex gap="3" role="status" align="baseline">
        <Text className="figures">Listing: {count(state.listed)} files so far.</Text>
        <Button size="xs" variant="plain" onClick={onStop}>
          Stop
        </Button>
      </Flex>
    );
  const damaged = state.told.filter(({ verdict }) => verdict.verdict === "damaged").length;
  const sequences = state.proposals.sequences.length;
  return (
    <Box role="status">
      <Text fontSize="md" className="figures" data-testid="folder-sentence">
        {count(sequences)} sequence{sequences === 1 ? "" : "s"}, {count(state.checked)} of{" "}
        {count(state.pictures)} pictures looked at, {size(state.bytes)}:{" "}
        <Box as="span" color={damaged > 0 ? "brick" : "inherit"} fontWeight="700">
          {count(damaged)} damaged
        </Box>
        .
        {state.step === "done" ? ` ${duration(state.seconds)}.` : state.step === "stopped" ? " Stopped." : ""}
      </Text>
      {state.step === "checking" && (
        <Flex gap="3" align="center" mt="1">
          <Progress.Root
            size="xs"
            flex="1"
            value={state.pictures === 0 ? 100 : (100 * state.checked) / state.pictures}
          >
            <Progress.Track bg="rule">
              <Progress.Range bg="petrol" />
            </Progress.Track>
          </Progress.Root>
          <Button size="xs" variant="plain" onClick={onStop}>
            Stop
          </Button>
        </Flex>
      )}
      {state.trouble !== null && <Refusal>{state.trouble}</Refusal>}
    </Box>
  );
}

export function CheckFolderPage() {
  const { state, start, stop, report } = useFolderCheck();
  const { sequences, others, leftovers } = state.proposals;
  const isEmpty = state.step === "done" && sequences.length === 0;
  return (
    <>
      <Header project={null} />
      <Box as="main" px="6" pt="5" pb="10" maxW="1080px" mx="auto">
        <Heading as="h1" fontSize="xl" fontWeight="700">
          Check a folder
        </Heading>
        <Text color="softInk" mb="3">
          One of this computer. The browser reads it by itself: not a byte of it is sent anywhere, and nothing
          in it is changed.
        </Text>
        <DropArea
          label="A folder to check"
          isFolderOffered
          isOnlyFolder
          onDrop={(data) => start(droppedEntries(data))}
          onChoose={(files) => start(filesOfInput(files))}
        />
        <Box mt="4">{state.step !== "idle" && <Going state={state} onStop={stop} />}</Box>
        {isEmpty && (
          <Text color="softInk">There are no numbered pictures in it, nor in the folders below it.</Text>
        )}
        {sequences.length > 0 && (
          <>
            <Flex gap="4" my="2">
              <Button
                size="xs"
                variant="outline"
                onClick={() => saveText("folder-check.json", report(), "application/json")}
              >
                Save the report
              </Button>
              <Text color="softInk" fontSize="sm">
                As scan and check print it.
              </Text>
            </Flex>
            <Box as="ul" listStyleType="none" aria-label="Sequences">
              {sequences.map((proposal, i) => (
                <SequenceLine
                  key={`${proposal.folder}/${proposal.found.name}`}
                  proposal={proposal}
                  damaged={state.damaged[i]!}
                  unlooked={state.unlooked[i]!}
                />
              ))}
            </Box>
          </>
        )}
        {(others.length > 0 || leftovers.length > 0) && (
          <Text fontSize="xs" color="softInk" mt="2" lineClamp={3}>
            {others.length > 0 && `Other files: ${others.slice(0, SHOWN).join(", ")}. `}
            {leftovers.length > 0 && `Left over: ${leftovers.slice(0, SHOWN).join(", ")}.`}
          </Text>
        )}
        <ToldFiles told={state.told} />
      </Box>
    </>
  );
}
