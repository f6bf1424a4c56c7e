"use client";
/** Why a run that goes on leases no frame: what it needs, and what now. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { RunHeld } from "@/contract/hold";
import { formatPhrase } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import { Tip } from "../theme/tip";
import { size } from "../words";

/** What is the matter, with its figures; what would end it; what becomes of frames in work meanwhile. */
export function heldText(held: RunHeld): string {
  if (held.code === "disk-full")
    return `Held: the disk is full. All that is left needs about ${size(held.need)}; ${size(held.free)} are free. It goes on by itself at ${size(held.goesOnAt)}. What is in work is kept and written then.`;
  const who =
    held.nodes.length === 1
      ? `${held.nodes[0]} failed on its first frames`
      : `${held.nodes.join(", ")} each failed on the first frame`;
  return `Held: ${who} (${formatPhrase(setOf(held.frames))}) in the same way, so it is the scene: ${held.message} Mend the scene and start a new run, or go on with this one.`;
}

/** One sentence of what holds it, one of what would end that, and the button where a person is asked. */
export function HeldLine({
  held,
  isPending,
  onGoOn,
}: {
  readonly held: RunHeld;
  readonly isPending: boolean;
  readonly onGoOn: () => void;
}) {
  return (
    <Flex gap="4" align="start" mt="1" fontSize="sm" role="status" data-testid="held">
      <Text color="brick" className="figures" flex="1" minW="0" overflowWrap="anywhere">
        {heldText(held)}
      </Text>
      <Box flexShrink={0}>
        <Tip text="Its frames are tried again now; what failed before counts no more">
          <Button size="xs" variant="outline" loading={isPending} onClick={onGoOn}>
            Go on now
          </Button>
        </Tip>
      </Box>
    </Flex>
  );
}
