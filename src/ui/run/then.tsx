"use client";
/** What a run is followed by: once all of its frames are good, a node makes it by itself. */
import { Box, Flex, Text } from "@chakra-ui/react";
import type { WishBody } from "@/contract/handover";
import { MOVIE_PRESETS, type MoviePreset, PRESET_FACTS } from "@/core/handover/wish";
import { Select } from "../fields/fields";

export type Then = "nothing" | "report" | MoviePreset;

/** Every file is unpacked first: nobody looks at what is made at night. */
export const wishAfter = (then: Exclude<Then, "nothing">): WishBody =>
  then === "report"
    ? { as: "report" }
    : { as: "movie", gaps: "stop", isDeep: true, movie: PRESET_FACTS[then].sets };

export function ThenLine({
  value,
  onChange,
}: {
  readonly value: Then;
  readonly onChange: (then: Then) => void;
}) {
  return (
    <Flex gap="2" align="center" mb="1.5" flexWrap="wrap" minW="0">
      <Text flexShrink={0}>When all frames are good</Text>
      <Box flex="1 1 180px" minW="0" maxW="300px">
        <Select<Then>
          label="When all frames are good"
          value={value}
          options={[
            ["nothing", "nothing more"],
            ...MOVIE_PRESETS.map(
              (preset) => [preset, `deep check, and a movie ${PRESET_FACTS[preset].word}`] as const,
            ),
            ["report", "a report"],
          ]}
          onChange={onChange}
        />
      </Box>
    </Flex>
  );
}
