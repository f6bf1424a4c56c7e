"use client";
/** What is done for a reason: one line that asks for it. What was typed stays when the server refuses. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import { BOUNDS } from "@/contract/bounds";
import { messageOf } from "../live/api";
import { Refusal } from "./states";

export function ReasonForm({
  lead,
  action,
  label = "Reason",
  canSend = true,
  isSending,
  error,
  onSend,
  onLeave,
}: {
  /** The sentence up to "because". */
  readonly lead: ReactNode;
  /** On the button. */
  readonly action: string;
  /** Of the field, for who hears the page. */
  readonly label?: string;
  readonly canSend?: boolean;
  readonly isSending: boolean;
  readonly error: Error | null;
  readonly onSend: (reason: string) => void;
  /** Left as it was. */
  readonly onLeave: () => void;
}) {
  const [reason, setReason] = useState("");
  const isBlank = reason.trim() === "";
  return (
    <Box asChild mt="2">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (!isBlank && canSend) onSend(reason.trim());
        }}
      >
        <Flex gap="3" align="center">
          <Text flexShrink={0}>{lead}</Text>
          <Input
            autoFocus
            size="sm"
            maxW="360px"
            bg="sheet"
            color="ink"
            aria-label={label}
            maxLength={BOUNDS.reason}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== "Escape") return;
              event.stopPropagation();
              onLeave();
            }}
          />
          <Button type="submit" size="xs" disabled={isBlank || !canSend} loading={isSending}>
            {action}
          </Button>
          <Button size="xs" variant="plain" onClick={onLeave}>
            Leave it
          </Button>
        </Flex>
        {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      </form>
    </Box>
  );
}
