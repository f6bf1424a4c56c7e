"use client";
/** Shots that were put away, each with its way back. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ChangeShotBody } from "@/contract/project-bodies";
import { messageOf, patch, shotApi } from "../live/api";
import { Refusal } from "../page/states";

export function ArchivedShots({
  project,
  codes,
}: {
  readonly project: string;
  readonly codes: readonly string[];
}) {
  const client = useQueryClient();
  const bringBack = useMutation({
    mutationFn: (code: string) =>
      patch(shotApi({ project, code }), { isArchived: false } satisfies ChangeShotBody),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <Flex gap="3" rowGap="1" wrap="wrap" align="baseline" py="4" borderTopWidth="1px" borderColor="rule">
      <Text color="softInk">Archived:</Text>
      {codes.map((code) => (
        <Flex key={code} gap="1" align="baseline">
          <Text fontFamily="mono">{code}</Text>
          <Button
            size="xs"
            variant="plain"
            aria-label={`Bring back ${code}`}
            loading={bringBack.isPending && bringBack.variables === code}
            onClick={() => bringBack.mutate(code)}
          >
            bring back
          </Button>
        </Flex>
      ))}
      {bringBack.error !== null && <Refusal>{messageOf(bringBack.error)}</Refusal>}
    </Flex>
  );
}
