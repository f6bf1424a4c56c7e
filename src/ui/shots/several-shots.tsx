"use client";
/** The same done to several shots of the ledger, each by itself: what is refused for one is done for the others. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { ChangeShotBody } from "@/contract/project-bodies";
import type { LeftOnDisk } from "@/contract/project-view";
import { messageOf, patch, remove, shotApi } from "../live/api";
import { AskedAgain } from "../page/asked-again";
import { Refusal } from "../page/states";
import { count } from "../words";

/** Of which it could not be done, with the reason. */
type Refused = readonly { readonly code: string; readonly message: string }[];

/** One after the other: each is a transaction of its own, and the tally is not asked for 500 at once. */
async function doneToEach(
  codes: readonly string[],
  deed: (code: string) => Promise<unknown>,
): Promise<Refused> {
  const refused: { code: string; message: string }[] = [];
  for (const code of codes)
    await deed(code).catch((error: unknown) => refused.push({ code, message: messageOf(error) }));
  return refused;
}

export function SeveralShots({
  project,
  chosen,
  found,
  onChoose,
  onDone,
}: {
  readonly project: string;
  /** Codes. */
  readonly chosen: readonly string[];
  /** Codes of the lines that are shown. */
  readonly found: readonly string[];
  readonly onChoose: (codes: readonly string[]) => void;
  readonly onDone: () => void;
}) {
  const client = useQueryClient();
  const [isRemoving, setRemoving] = useState(false);
  const [refused, setRefused] = useState<Refused>([]);
  const after = async (left: Refused): Promise<void> => {
    setRefused(left);
    onChoose(left.map(({ code }) => code));
    await client.invalidateQueries();
  };
  const archive = useMutation({
    mutationFn: () =>
      doneToEach(chosen, (code) =>
        patch(shotApi({ project, code }), { isArchived: true } satisfies ChangeShotBody),
      ),
    onSuccess: after,
  });
  const isNone = chosen.length === 0;
  const shots = `${count(chosen.length)} shot${chosen.length === 1 ? "" : "s"}`;
  return (
    <Box mb="3">
      <Flex
        gap="3"
        align="center"
        flexWrap="wrap"
        role="toolbar"
        aria-label="What is done to the chosen shots"
      >
        <Text className="figures" minW="84px">
          {count(chosen.length)} chosen
        </Text>
        <Button
          size="xs"
          variant="plain"
          onClick={() => onChoose(chosen.length === found.length ? [] : found)}
        >
          {chosen.length === found.length && !isNone ? "None" : `All ${count(found.length)} that are shown`}
        </Button>
        <Button
          size="xs"
          variant="outline"
          disabled={isNone}
          loading={archive.isPending}
          onClick={() => archive.mutate()}
        >
          Archive them
        </Button>
        <Button size="xs" variant="outline" disabled={isNone} onClick={() => setRemoving(true)}>
          Remove them
        </Button>
        <Button size="xs" variant="plain" onClick={onDone}>
          Choose no more
        </Button>
      </Flex>
      {refused.map(({ code, message }) => (
        <Refusal key={code}>
          {code}: {message}
        </Refusal>
      ))}
      {isRemoving && !isNone && (
        <AskedAgain
          action={`Remove ${shots}`}
          doIt={async () => {
            await after(await doneToEach(chosen, (code) => remove<LeftOnDisk>(shotApi({ project, code }))));
            setRemoving(false);
          }}
          onKeep={() => setRemoving(false)}
        >
          {shots} go from the tally with their versions, runs, checks and flags. Every file stays where it is.
        </AskedAgain>
      )}
    </Box>
  );
}
