"use client";
/** What another program's log says of its frames: patterns tried on its first lines, all of it read beside the page. */
import { Box, Button, Checkbox, Flex, Input, Progress, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { LogFactsBody, NotedLog } from "@/contract/log-facts";
import { compileLogPattern, LOG_SHAPES, type LogGroup, type LogPattern } from "@/core/review/log-pattern";
import type { LogRead } from "@/core/review/log-reader";
import { median } from "@/core/many";
import { messageOf, post } from "../live/api";
import { DropArea } from "../page/drop-area";
import { Refusal } from "../page/states";
import { useSequenceNow } from "../shot/shot-context";
import { count, duration, frames, size } from "../words";
import { useLog } from "./use-log";

/** Frames that one request carries. */
const SENT_AT_ONCE = 20_000;
/** Messages of the log that are shown; the band's focus shows each frame's own. */
const SAID_SHOWN = 50;

const GROUP_INK: Readonly<Record<LogGroup, string>> = {
  frame: "petrol",
  node: "plum",
  seconds: "ochre",
  message: "brick",
};

/** A line with what each group takes out of it underlined in its colour. */
function TriedLine({ line, patterns }: { readonly line: string; readonly patterns: readonly LogPattern[] }) {
  const spans = patterns
    .flatMap((pattern) => pattern.read(line)?.spans ?? [])
    .sort((a, b) => a.from - b.from || b.to - a.to);
  const pieces: React.ReactNode[] = [];
  let at = 0;
  for (const { group, from, to } of spans) {
    if (from < at) continue;
    pieces.push(line.slice(at, from));
    pieces.push(
      <Box
        as="mark"
        key={`${group} ${from}`}
        title={group}
        bg="transparent"
        color={GROUP_INK[group]}
        borderBottomWidth="2px"
        borderColor={GROUP_INK[group]}
        fontWeight="700"
      >
        {line.slice(from, to)}
      </Box>,
    );
    at = to;
  }
  pieces.push(line.slice(at));
  return (
    <Text as="li" whiteSpace="pre" color={spans.length === 0 ? "softInk" : "ink"}>
      {pieces}
    </Text>
  );
}

/** Patterns of the chosen shapes and of one's own. */
function usePatterns(lines: readonly string[]) {
  const matches = useMemo(
    () =>
      LOG_SHAPES.map(({ source }) => {
        const compiled = compileLogPattern(source);
        return compiled.ok ? lines.filter((line) => compiled.pattern.read(line) !== null).length : 0;
      }),
    [lines],
  );
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const [own, setOwn] = useState("");
  // Of what matches any line, until somebody chooses.
  const shapes = chosen ?? new Set(matches.flatMap((n, i) => (n > 0 ? [i] : [])));
  const compiled = own.trim() === "" ? null : compileLogPattern(own);
  const sources = [
    ...[...shapes].map((i) => LOG_SHAPES[i]!.source),
    ...(compiled?.ok === true ? [compiled.pattern.source] : []),
  ];
  // As one text: a new list of the same patterns is no change. None of them has a line break.
  const written = sources.join("\n");
  const patterns = useMemo(
    () =>
      written.split("\n").flatMap((source) => {
        const read = compileLogPattern(source);
        return read.ok ? [read.pattern] : [];
      }),
    [written],
  );
  return {
    ...{ matches, shapes, own, setOwn, sources, patterns },
    fault: compiled?.ok === false ? compiled.fault : null,
    choose: (i: number, isChosen: boolean): void => {
      const next = new Set(shapes);
      if (isChosen) next.add(i);
      else next.delete(i);
      setChosen(next);
    },
  };
}

/** 96 frames: quay-1 made 48, quay-2 48; 41 s a frame; 2 with something to be told. */
function readText({ frames: said, lines, matched }: LogRead): string {
  const nodes = new Map<string, number>();
  for (const { node } of said) if (node !== null) nodes.set(node, (nodes.get(node) ?? 0) + 1);
  const seconds = said.flatMap((s) => (s.seconds === null ? [] : [s.seconds]));
  const messages = said.filter((s) => s.message !== null).length;
  return [
    `${count(lines)} lines, ${count(matched)} of them of ${frames(said.length)}`,
    ...(nodes.size === 0 ? [] : [[...nodes].map(([node, n]) => `${node} made ${count(n)}`).join(", ")]),
    ...(seconds.length === 0 ? [] : [`${duration(median(seconds))} a frame`]),
    ...(messages === 0 ? [] : [`${frames(messages)} with something to be told`]),
  ].join("; ");
}

export function LogPane() {
  const { view } = useSequenceNow();
  const { state, choose, read, stop, drop } = useLog();
  const lines = state.step === "none" ? [] : state.lines;
  const { matches, shapes, own, setOwn, sources, patterns, fault, choose: chooseShape } = usePatterns(lines);
  const fill = useMutation({
    mutationFn: async (said: LogFactsBody["frames"]): Promise<NotedLog> => {
      let all: NotedLog = { noted: 0, notHere: "" };
      for (let i = 0; i < said.length; i += SENT_AT_ONCE) {
        const some = await post<NotedLog>(`/api/sequences/${view.id}/log-facts`, {
          frames: said.slice(i, i + SENT_AT_ONCE),
        });
        all = {
          noted: all.noted + some.noted,
          notHere: [all.notHere, some.notHere].filter((text) => text !== "").join(","),
        };
      }
      return all;
    },
  });
  const said = view.elsewhere?.said ?? [];
  return (
    <Box borderTopWidth="1px" borderColor="rule" mt="4" pt="2" data-testid="log-pane">
      <Text fontWeight="700" mb="1">
        The log of what made them
      </Text>
      <Text color="softInk" fontSize="sm" mb="2">
        Who made which frame, how long it took, and what was said of it. The log is read here in the browser.
      </Text>
      {state.step === "none" ? (
        <DropArea
          label="A log"
          accept=".log,.txt"
          onDrop={({ files }) => files[0] !== undefined && choose(files[0])}
          onChoose={(files) => choose(files[0]!)}
        />
      ) : (
        <>
          <Flex gap="3" align="baseline" mb="1">
            <Text fontFamily="mono" fontSize="sm">
              {state.file.name}
            </Text>
            <Text color="softInk" fontSize="sm">
              {size(state.file.size)}
            </Text>
            <Button size="xs" variant="plain" onClick={drop}>
              Another one
            </Button>
          </Flex>
          <Flex direction="column" gap="0.5" role="group" aria-label="Shapes of lines">
            {LOG_SHAPES.map(({ name }, i) => (
              <Checkbox.Root
                key={name}
                size="sm"
                checked={shapes.has(i)}
                onCheckedChange={({ checked }) => chooseShape(i, checked === true)}
              >
                <Checkbox.HiddenInput />
                <Checkbox.Control />
                <Checkbox.Label fontWeight="400" fontFamily="mono" fontSize="xs">
                  {name}
                </Checkbox.Label>
                <Text fontSize="xs" color="softInk" ml="auto" className="figures">
                  {count(matches[i]!)} of {count(lines.length)} lines
                </Text>
              </Checkbox.Root>
            ))}
          </Flex>
          <Input
            mt="1.5"
            size="xs"
            fontFamily="mono"
            bg="paper"
            aria-label="A pattern of one's own"
            placeholder="or your own: frame (?P<frame>\d+) on (?P<node>\S+)"
            value={own}
            onChange={(event) => setOwn(event.target.value)}
          />
          {fault !== null && <Refusal>{fault}</Refusal>}
          <Box
            as="ul"
            listStyleType="none"
            aria-label="First lines of the log"
            fontFamily="mono"
            fontSize="xs"
            maxH="150px"
            overflow="auto"
            borderWidth="1px"
            borderColor="rule"
            px="2"
            py="1"
            mt="1.5"
            tabIndex={0}
          >
            {lines.map((line, i) => (
              <TriedLine key={i} line={line} patterns={patterns} />
            ))}
          </Box>
          {state.step === "reading" ? (
            <Flex gap="3" align="center" mt="2" role="status">
              <Progress.Root
                size="xs"
                flex="1"
                value={state.file.size === 0 ? 100 : (100 * state.bytes) / state.file.size}
              >
                <Progress.Track bg="rule">
                  <Progress.Range bg="petrol" />
                </Progress.Track>
              </Progress.Root>
              <Text className="figures" fontSize="sm">
                {count(state.read)} lines
              </Text>
              <Button size="xs" variant="plain" onClick={stop}>
                Stop
              </Button>
            </Flex>
          ) : (
            <Flex gap="3" align="center" mt="2">
              <Button
                size="xs"
                variant="outline"
                disabled={sources.length === 0 || fault !== null}
                onClick={() => {
                  fill.reset();
                  read(sources);
                }}
              >
                Read all of it
              </Button>
              {state.step === "read" && state.result.frames.length > 0 && !fill.isSuccess && (
                <Button size="xs" loading={fill.isPending} onClick={() => fill.mutate(state.result.frames)}>
                  Fill in {frames(state.result.frames.length)}
                </Button>
              )}
            </Flex>
          )}
          {state.step === "failed" && <Refusal>{state.message}</Refusal>}
          {state.step === "read" && (
            <Text mt="1.5" className="figures" role="status" data-testid="log-read">
              {state.result.frames.length === 0
                ? `${count(state.result.lines)} lines, and none of them of a frame.`
                : `${readText(state.result)}.`}
            </Text>
          )}
          {fill.isSuccess && (
            <Text mt="1" className="figures" role="status" data-testid="log-noted">
              {frames(fill.data.noted)} filled in
              {fill.data.notHere === "" ? "" : `; ${fill.data.notHere} have no file here`}.
            </Text>
          )}
          {fill.error !== null && <Refusal>{messageOf(fill.error)}</Refusal>}
        </>
      )}
      {said.length > 0 && (
        <Box as="ul" listStyleType="none" mt="2" fontSize="sm" aria-label="What the log said">
          {said.slice(0, SAID_SHOWN).map(({ frame, text }) => (
            <Flex as="li" key={frame} gap="3">
              <Text fontFamily="mono" className="figures" w="56px" flexShrink={0}>
                {frame}
              </Text>
              <Text color="ochre" whiteSpace="pre-line">
                {text}
              </Text>
            </Flex>
          ))}
        </Box>
      )}
    </Box>
  );
}
