"use client";
/** Saves the draft as the next revision, where no frame is out of date for it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { versionName } from "@/core/plan/plan";
import { Refusal } from "../page/states";
import { FIELD_WORD } from "./plan-words";
import { useShotWork } from "./shot-context";

export function SaveDraft() {
  const { draft, shot } = useShotWork();
  if (draft.changed.length === 0)
    return (
      <Text color="softInk">
        This is revision {shot.revision} of {versionName(shot.sequence)} as saved.
      </Text>
    );
  return (
    <Box>
      <Text mb="1">
        Changed since revision {shot.revision}: {draft.changed.map((field) => FIELD_WORD[field]).join(", ")}.
      </Text>
      <SaveButtons />
      {draft.saveTrouble !== null && <Refusal>{draft.saveTrouble.message}</Refusal>}
    </Box>
  );
}

/** Save, or drop the change. */
export function SaveButtons() {
  const { draft, shot } = useShotWork();
  return (
    <Flex gap="4" align="center">
      <Button
        size="sm"
        disabled={draft.read === null}
        loading={draft.isSaving}
        onClick={() => void draft.save()}
      >
        Save as revision {shot.revision + 1}
      </Button>
      <Button size="sm" variant="plain" onClick={() => draft.putBack()}>
        Drop the change
      </Button>
    </Flex>
  );
}
