"use client";
/** What a frame is, written onto its picture in the screening room's way: small, at the foot, and not part of the file. */
import { Box } from "@chakra-ui/react";

export function FactsOnPicture({ lines }: { readonly lines: readonly (string | null)[] }) {
  return (
    <Box
      position="absolute"
      left="3"
      bottom="1"
      px="2"
      py="1"
      bg="surround"
      color="onSurround"
      fontFamily="mono"
      fontSize="xs"
      pointerEvents="none"
      data-testid="facts-on-picture"
    >
      {lines.filter((line) => line !== null && line !== "").join("  ·  ")}
    </Box>
  );
}
