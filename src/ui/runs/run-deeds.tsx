"use client";
/** What is done to the runs that are chosen. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { PRIORITIES, type Priority } from "@/contract/run-manner";
import type { ChangedRunsView, ChangeRunsBody } from "@/contract/runs-view";
import { Select } from "../fields/fields";
import { messageOf, post } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Refusal } from "../page/states";
import { PRIORITY_TEXT } from "../run/words";
import { count } from "../words";

/** What is done to the runs that are chosen. */
export function RunDeeds({
  chosen,
  onDone,
}: {
  readonly chosen: readonly number[];
  readonly onDone: () => void;
}) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (body: Omit<ChangeRunsBody, "runs">) =>
      post<ChangedRunsView>("/api/runs", { ...body, runs: chosen }),
    onSuccess: async ({ refused }) => {
      await client.invalidateQueries({ queryKey: queryKeys.runs });
      if (refused.length === 0) onDone();
    },
  });
  const isNone = chosen.length === 0;
  const button = (text: string, what: ChangeRunsBody["what"]) => (
    <Button
      size="xs"
      variant="outline"
      disabled={isNone}
      loading={change.isPending && change.variables.what === what}
      onClick={() => change.mutate({ what })}
    >
      {text}
    </Button>
  );
  return (
    <Box mb="2">
      <Flex
        gap="3"
        align="center"
        flexWrap="wrap"
        role="toolbar"
        aria-label="What is done to the chosen runs"
      >
        <Text className="figures" minW="76px">
          {count(chosen.length)} chosen
        </Text>
        {button("Stop after their frames", "stop")}
        {button("Stop now", "stop-now")}
        {button("Go on", "go-on")}
        <Box w="210px">
          <Select
            label="Priority of the chosen runs"
            value=""
            options={[
              ["", "priority"],
              ...[...PRIORITIES].reverse().map((p) => [String(p), PRIORITY_TEXT[p]] as const),
            ]}
            onChange={(text) =>
              text !== "" &&
              !isNone &&
              change.mutate({ what: "priority", priority: Number(text) as Priority })
            }
          />
        </Box>
      </Flex>
      {change.data?.refused.map(({ run, message }) => (
        <Refusal key={run}>
          Run {run}: {message}
        </Refusal>
      ))}
      {change.error !== null && <Refusal>{messageOf(change.error)}</Refusal>}
    </Box>
  );
}
