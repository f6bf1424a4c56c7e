"use client";
/** Which groups a node is in: names with commas; none takes it out of all. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { type UseMutationResult } from "@tanstack/react-query";
import { useState } from "react";
import type { NodeSettings } from "@/contract/node-settings";
import { isMachineName } from "@/core/naming/name";
import { Refusal } from "../page/states";

const readGroups = (text: string): readonly string[] => [
  ...new Set(
    text
      .split(",")
      .map((name) => name.trim())
      .filter((name) => name !== ""),
  ),
];

export function GroupsForm({
  node,
  groups,
  change,
  onDone,
}: {
  readonly node: string;
  readonly groups: readonly string[];
  readonly change: UseMutationResult<unknown, Error, Partial<NodeSettings>>;
  readonly onDone: () => void;
}) {
  const [text, setText] = useState(groups.join(", "));
  const wanted = readGroups(text);
  const wrong = wanted.find((name) => !isMachineName(name));
  return (
    <Box asChild mt="2">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (wrong === undefined) change.mutate({ groups: wanted }, { onSuccess: onDone });
        }}
      >
        <Flex gap="3" align="center">
          <Text flexShrink={0}>{node} is in the groups</Text>
          <Input
            autoFocus
            size="sm"
            maxW="360px"
            bg="sheet"
            color="ink"
            fontFamily="mono"
            placeholder="farm, night"
            aria-label={`Groups of ${node}`}
            aria-invalid={wrong !== undefined}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") onDone();
            }}
          />
          <Button type="submit" size="xs" disabled={wrong !== undefined} loading={change.isPending}>
            Save
          </Button>
          <Button size="xs" variant="plain" onClick={onDone}>
            Leave it
          </Button>
          <Text color="softInk" fontSize="xs">
            A run may be for all of a group.
          </Text>
        </Flex>
        {wrong !== undefined && (
          <Refusal>{`“${wrong}” cannot be the name of a group: letters, digits, - and _.`}</Refusal>
        )}
      </form>
    </Box>
  );
}
