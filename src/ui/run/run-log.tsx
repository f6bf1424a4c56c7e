"use client";
/**
 * The newest lines of a run's log, of one node or of all, or of the focused frame over all runs: searched,
 * copied, following the end unless somebody scrolled up.
 * Lines are asked for newest first and shown oldest first, as many as one asking brings; whoever wants more
 * has the file of lines beside the frames.
 */
import { Box, Button, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { memo, useEffect, useRef, useState } from "react";
import type { LogLine } from "@/contract/run-view";
import { useLog } from "../live/queries";
import { Refusal } from "../page/states";
import { useShotWork, useSequenceNow, usePointed } from "../shot/shot-context";
import { Tip } from "../theme/tip";

/** No node has this name. */
const FRAME = "/frame";

/** @param nodes that have made frames here; others come with their lines */
export function RunLog({
  runId,
  nodes: known,
}: {
  readonly runId: number;
  readonly nodes: readonly string[];
}) {
  const { setFocus } = useShotWork();
  const { view } = useSequenceNow();
  const { focus } = usePointed();
  const [of, setOf] = useState("");
  const [search, setSearch] = useState("");
  const [isCopied, setCopied] = useState(false);
  const isOfFrame = of === FRAME && focus !== null;
  const node = of === FRAME ? "" : of;
  const { data, error } = useLog(isOfFrame ? { leadId: view.leadId, frame: focus } : { runId, node }, search);
  const box = useRef<HTMLDivElement>(null);
  const follows = useRef(true);
  const shown = data?.lines ?? [];
  const nodes = [
    ...new Set([...known, ...shown.map((line) => line.node), ...(node === "" ? [] : [node])]),
  ].sort();
  const copy = (): void =>
    void navigator.clipboard
      .writeText(
        shown
          .map(
            (line) =>
              `${new Date(line.at).toISOString()} ${line.node} ${line.frame} ${line.level}: ${line.text}\n`,
          )
          .join(""),
      )
      .then(() => setCopied(true));
  const lastId = shown.at(-1)?.id;
  useEffect(() => {
    if (follows.current && box.current !== null) box.current.scrollTop = box.current.scrollHeight;
    setCopied(false);
  }, [lastId, of, search]);
  return (
    <Flex direction="column" flex="1" minH="120px">
      <Flex gap="3" align="center" mb="1">
        <Input
          size="xs"
          flex="1"
          bg="paper"
          placeholder="text or frame"
          aria-label="Search the log"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <Tip text="The lines that are shown">
          <Button size="xs" variant="plain" disabled={shown.length === 0} onClick={copy}>
            {isCopied ? "Copied" : "Copy"}
          </Button>
        </Tip>
        <NativeSelect.Root size="xs" w="150px">
          <NativeSelect.Field
            aria-label="Lines of which node"
            value={isOfFrame ? FRAME : node}
            onChange={(event) => setOf(event.target.value)}
            bg="paper"
          >
            <option value="">every node</option>
            {focus !== null && <option value={FRAME}>frame {focus}, all runs</option>}
            {nodes.map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      <Box
        ref={box}
        flex="1"
        minH="0"
        overflowY="auto"
        bg="paper"
        borderWidth="1px"
        borderColor="rule"
        px="2"
        py="1"
        fontFamily="mono"
        fontSize="12px"
        lineHeight="1.5"
        tabIndex={0}
        role="log"
        aria-label={isOfFrame ? `Log of frame ${focus}` : `Log of run ${runId}`}
        onScroll={(event) => {
          follows.current =
            event.currentTarget.scrollHeight -
              event.currentTarget.scrollTop -
              event.currentTarget.clientHeight <
            24;
        }}
      >
        {error !== null && <Refusal>The log cannot be read now.</Refusal>}
        {data !== undefined && shown.length === 0 && (
          <Text color="softInk">{search === "" ? "No line yet." : "No line holds this."}</Text>
        )}
        {shown.map((line) => (
          <LogRow key={line.id} line={line} isOfFrame={isOfFrame} onFrame={setFocus} />
        ))}
      </Box>
    </Flex>
  );
}

/** A line that was said does not change: with 200 of them on show, a new one costs one. */
const LogRow = memo(
  function LogRow({
    line,
    isOfFrame,
    onFrame,
  }: {
    readonly line: LogLine;
    readonly isOfFrame: boolean;
    readonly onFrame: (frame: number) => void;
  }) {
    return (
      <Flex gap="3" color={line.level === "error" ? "brick" : line.level === "warning" ? "ochre" : "ink"}>
        <Box color="softInk">{new Date(line.at).toLocaleTimeString("en-GB")}</Box>
        <Box color="softInk" w="56px" flexShrink={0} truncate>
          {line.node}
        </Box>
        {isOfFrame ? (
          <Box flexShrink={0}>run {line.run}</Box>
        ) : (
          <Button
            variant="plain"
            size="2xs"
            fontFamily="mono"
            fontSize="12px"
            h="auto"
            px="0"
            onClick={() => onFrame(line.frame)}
          >
            {line.frame}
          </Button>
        )}
        <Box minW="0" overflowWrap="anywhere">
          {line.text}
        </Box>
      </Flex>
    );
  },
  (before, now) =>
    before.line.id === now.line.id && before.isOfFrame === now.isOfFrame && before.onFrame === now.onFrame,
);
