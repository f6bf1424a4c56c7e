"use client";
/**
 * Changing a run while it goes: its frames, policy, order, nodes and times.
 * A change is one request, however many fields it has: it is taken as a whole or not at all. What goes on
 * meanwhile, and what somebody else changes, shows in the fields that were not touched.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { ChangeRunBody } from "@/contract/bodies";
import { POLICIES, type Policy } from "@/core/run/what-to-render";
import { messageOf, post } from "../live/api";
import { Line } from "../page/bench";
import { NodeChoice } from "../page/choices";
import { Refusal } from "../page/states";
import { Select } from "../fields/fields";
import { count } from "../words";
import { MannerFields } from "./manner";
import { POLICY_TEXT } from "./words";
import type { RunView } from "@/contract/run-view";

/** What may be changed while a run goes; the rest is the plan's. */
const SETTINGS = [
  "phrase",
  "policy",
  "order",
  "priority",
  "startAt",
  "stopAt",
  "batch",
  "after",
  "nodes",
] as const satisfies readonly (keyof ChangeRunBody)[];

/** Only what was edited is sent, so that two people who change two things do not undo one another. */
export function ChangeRun({ run }: { readonly run: RunView }) {
  const [edits, setEdits] = useState<ChangeRunBody>({});
  const now = {
    phrase: run.wanted,
    policy: run.policy,
    order: run.order,
    priority: run.priority,
    startAt: run.startAt,
    stopAt: run.stopAt,
    batch: run.batch,
    after: run.after,
    nodes: run.nodes,
  };
  const wanted = { ...now, ...edits };
  const changed = SETTINGS.filter((key) => JSON.stringify(wanted[key]) !== JSON.stringify(now[key]));
  const edit = (change: ChangeRunBody): void => {
    apply.reset();
    setEdits({ ...edits, ...change });
  };
  const apply = useMutation({
    mutationFn: () =>
      post<{ added: number; droppedOut: number }>(
        `/api/runs/${run.id}/change`,
        Object.fromEntries(changed.map((key) => [key, wanted[key]])),
      ),
    onSuccess: () => setEdits({}),
  });
  const noNodes = wanted.nodes?.length === 0;
  return (
    <Box data-testid="change-run">
      <Line label="Frames">
        <Input
          size="xs"
          w="416px"
          fontFamily="mono"
          bg="paper"
          aria-label="Frames of the run"
          value={wanted.phrase}
          onChange={(event) => edit({ phrase: event.target.value })}
        />
      </Line>
      <Line label="Of these, it renders">
        <Select<Policy>
          label="Of these, it renders"
          value={wanted.policy}
          options={POLICIES.map((key) => [key, POLICY_TEXT[key]])}
          onChange={(policy) => edit({ policy })}
        />
      </Line>
      <Box mt="2">
        <MannerFields value={wanted} own={run.id} onChange={edit} />
      </Box>
      <Flex gap="4" mb="2">
        <Text color="softInk">On</Text>
        <NodeChoice value={wanted.nodes} onChange={(nodes) => edit({ nodes })} />
      </Flex>
      {noNodes && (
        <Text color="ochre" mb="2">
          No node may take part: choose at least one.
        </Text>
      )}
      <Text color="softInk" fontSize="xs" mb="2">
        Frames in work are finished whatever is changed. What is taken out waits no longer and can be put in
        again.
      </Text>
      <Flex gap="4" align="center">
        <Button
          size="sm"
          disabled={changed.length === 0 || noNodes}
          loading={apply.isPending}
          onClick={() => apply.mutate()}
        >
          Change run {run.id}
        </Button>
        {changed.length > 0 && (
          <Button
            size="sm"
            variant="plain"
            onClick={() => edit(Object.fromEntries(SETTINGS.map((key) => [key, now[key]])))}
          >
            As it is
          </Button>
        )}
        {apply.isSuccess && (
          <Text role="status">
            Changed: {count(apply.data.added)} put in, {count(apply.data.droppedOut)} taken out.
          </Text>
        )}
      </Flex>
      {apply.error !== null && <Refusal>{messageOf(apply.error)}</Refusal>}
    </Box>
  );
}
