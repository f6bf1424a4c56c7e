"use client";
/** Asks once more where it was clicked, for what cannot be taken back: what goes, and what stays. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { messageOf } from "../live/api";
import { Refusal } from "./states";

export interface AskedAgainProps {
  /** What will happen if it is done. */
  readonly children: ReactNode;
  /** On the button that does it, with the name of what it is done to. */
  readonly action: string;
  readonly doIt: () => Promise<unknown>;
  readonly onKeep: () => void;
}

export function AskedAgain({ children, action, doIt, onKeep }: AskedAgainProps) {
  const client = useQueryClient();
  const done = useMutation({ mutationFn: doIt, onSuccess: () => client.invalidateQueries() });
  return (
    <Box role="alert" mt="2">
      <Text>{children}</Text>
      <Flex gap="3" mt="2">
        <Button size="xs" loading={done.isPending} onClick={() => done.mutate()}>
          {action}
        </Button>
        <Button size="xs" variant="plain" onClick={onKeep}>
          Keep it
        </Button>
      </Flex>
      {done.error !== null && <Refusal>{messageOf(done.error)}</Refusal>}
    </Box>
  );
}
