"use client";
/** One of the versions that are looked at is chosen, with the reason: the others of its purpose are retired. */
import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { BOUNDS } from "@/contract/bounds";
import type { ShotView } from "@/contract/shot-view";
import { messageOf, post } from "../live/api";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { deedText } from "../words";

export function ChooseVersion({
  shot,
  names,
}: {
  readonly shot: ShotView;
  /** Names of the versions on show. */
  readonly names: readonly string[];
}) {
  const now = useNow();
  const [wanted, setWanted] = useState<number | null>(null);
  const [why, setWhy] = useState("");
  const decide = useMutation({
    mutationFn: (id: number) =>
      post<{ dropped: number }>(`/api/versions/${id}/status`, {
        decision: "choose",
        ...(why.trim() === "" ? {} : { why: why.trim() }),
      }),
    onSuccess: () => {
      setWanted(null);
      setWhy("");
    },
  });
  const versions = shot.versions.filter(({ name }) => names.includes(name));
  const chosen = shot.versions.find(({ status }) => status === "chosen");
  return (
    <Flex gap="2" align="center" wrap="wrap" fontSize="xs" role="group" aria-label="Which version is kept">
      {versions
        .filter(({ status }) => status !== "chosen")
        .map(({ id, name }) => (
          <Button key={id} size="xs" variant="outline" onClick={() => setWanted(id)}>
            Keep {name}…
          </Button>
        ))}
      {chosen?.decided != null && now !== null && (
        <Text color="softInk">
          {chosen.name} {deedText(chosen.decided, now)}
        </Text>
      )}
      {wanted !== null && (
        <Flex asChild gap="2" align="center">
          <form
            onSubmit={(event) => {
              event.preventDefault();
              decide.mutate(wanted);
            }}
          >
            <Text>Keep {versions.find(({ id }) => id === wanted)?.name}, retire the others, because</Text>
            <Input
              autoFocus
              size="xs"
              w="260px"
              bg="sheet"
              aria-label="Why it is kept"
              maxLength={BOUNDS.reason}
              value={why}
              onChange={(event) => setWhy(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== "Escape") return;
                event.stopPropagation();
                setWanted(null);
              }}
            />
            <Button type="submit" size="xs" loading={decide.isPending}>
              Keep it
            </Button>
            <Button size="xs" variant="plain" onClick={() => setWanted(null)}>
              Leave it
            </Button>
          </form>
        </Flex>
      )}
      {decide.error !== null && <Refusal>{messageOf(decide.error)}</Refusal>}
    </Flex>
  );
}
