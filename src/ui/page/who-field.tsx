"use client";
/** Under which name this browser acts: a word in the top line that becomes a field. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useState } from "react";
import { LONGEST_PERSON, nameFault } from "@/core/naming/name";
import { useWho } from "../live/use-who";
import { giveWho } from "../live/who-now";
import { Tip } from "../theme/tip";

/** Enter and leaving the field take the name over, Escape leaves it as it was; a wrong one stays in the field. */
export function WhoField() {
  const who = useWho();
  const [draft, setDraft] = useState<string | null>(null);
  if (draft === null)
    return (
      <Tip text="Stands beside what you start, stop, flag and choose, so that others know whom to ask">
        <Button variant="plain" size="xs" data-testid="who" onClick={() => setDraft(who ?? "")}>
          {who === null ? "Who are you?" : `You are ${who}`}
        </Button>
      </Tip>
    );
  const fault = draft.trim() === "" ? null : nameFault(draft.trim(), LONGEST_PERSON);
  const take = (): void => {
    if (fault !== null) return;
    if (draft.trim() !== "") giveWho(draft.trim());
    setDraft(null);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === "Enter") take();
    if (event.key === "Escape") setDraft(null);
  };
  return (
    <Flex align="center" gap="1" position="relative">
      <Text>You are</Text>
      <Input
        autoFocus
        size="xs"
        h="22px"
        w="140px"
        px="1"
        bg="sheet"
        aria-label="Your name"
        aria-invalid={fault !== null}
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onKeyDown={onKeyDown}
        onBlur={take}
      />
      {fault !== null && (
        <Box
          role="alert"
          position="absolute"
          top="26px"
          right="0"
          zIndex="popover"
          px="2"
          py="1"
          bg="sheet"
          borderWidth="1px"
          borderColor="brick"
          color="brick"
        >
          The name {fault}.
        </Box>
      )}
    </Flex>
  );
}
