"use client";
/** The frame's file against the one it replaced, in figures. */
import { Box, Text } from "@chakra-ui/react";
import type { FileMeasures, FrameChangeView } from "@/contract/sequence-view";
import { count, size } from "../words";

/** What is not known of a file is left out. */
const sideText = ({ samples, noise, bytes }: FileMeasures): string =>
  `${samples === null ? "" : `${count(samples)} samples, `}grain ${(noise * 100).toFixed(2)} %, ${size(bytes)}`;

/** Samples, seconds and node of both, and by how much the pictures differ. */
export function ChangeLine({
  change,
  isBefore,
}: {
  readonly change: FrameChangeView;
  /** The older one is shown at the moment. */
  readonly isBefore: boolean;
}) {
  return (
    <Text fontSize="xs" className="figures" mb="1" data-testid="frame-change">
      <Box as="span" fontWeight={isBefore ? "700" : "400"}>
        before: {sideText(change.before)}
      </Box>{" "}
      ·{" "}
      <Box as="span" fontWeight={isBefore ? "400" : "700"}>
        now: {sideText(change.now)}
      </Box>
      {change.difference === null
        ? ""
        : ` · they differ by ${(change.difference * 100).toFixed(2)} % of white`}
      {change.isSmall
        ? " · of the one before its small picture is kept: the file was replaced elsewhere, and cannot be brought back"
        : ""}
    </Text>
  );
}
