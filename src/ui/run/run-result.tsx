"use client";
/** What the last run came to, as a line that opens; what the next one would do stays below it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { RunView } from "@/contract/run-view";
import { frames } from "../words";
import { RunSummary } from "./run-summary";

/** One line: made, set aside, time against the estimate. Open, it is the summary. */
export function RunResult({
  run,
  isOpen,
  onOpen,
}: {
  readonly run: RunView;
  /** Kept by the bench: the end of a run that was followed opens it. */
  readonly isOpen: boolean;
  readonly onOpen: (isOpen: boolean) => void;
}) {
  return (
    <Box mb="2" pb="1.5" borderBottomWidth="1px" borderColor="rule">
      <Flex gap="3" align="baseline" className="figures">
        <Button variant="plain" size="sm" px="0" aria-expanded={isOpen} onClick={() => onOpen(!isOpen)}>
          What run {run.id} made
        </Button>
        <Text color="softInk" truncate>
          {frames(run.done)}
          {run.failed > 0 ? `, ${frames(run.failed)} set aside` : ""}
          {run.left > 0 ? `, ${frames(run.left)} left` : ""}
        </Text>
      </Flex>
      {isOpen && <RunSummary runId={run.id} />}
    </Box>
  );
}
