"use client";
/** What a run is followed by: once all of its frames are good, a node makes it by itself. */
import { Box, Flex, Text } from "@chakra-ui/react";
import type { WishBody } from "@/contract/handover";
import type { Gaps } from "@/core/handover/line-up";
import { MOVIE_PRESETS, type MovieSettings, PRESET_FACTS } from "@/core/handover/wish";
import { Select, Toggle } from "../fields/fields";
import { useMoviePresets } from "../live/queries";

export interface Then {
  readonly what:
    | { readonly as: "nothing" }
    | { readonly as: "report" }
    /** @param name of the preset, a house's own one with its number */
    | { readonly as: "movie"; readonly name: string; readonly sets: Partial<MovieSettings> };
  /** Every file is unpacked first: nobody looks at what is made at night. */
  readonly isDeep: boolean;
  /** Beside the movie. */
  readonly hasReport: boolean;
  readonly gaps: Gaps;
  readonly tells: boolean;
}

export const NOTHING_MORE: Then = {
  what: { as: "nothing" },
  isDeep: true,
  hasReport: false,
  gaps: "stop",
  tells: false,
};

/** None where nothing follows. */
export function wishesAfter({ what, isDeep, hasReport, gaps, tells }: Then): readonly WishBody[] {
  const report: WishBody = { as: "report", gaps, tells };
  switch (what.as) {
    case "nothing":
      return [];
    case "report":
      return [report];
    case "movie":
      return [{ as: "movie", gaps, isDeep, tells, movie: what.sets }, ...(hasReport ? [report] : [])];
  }
}

const keyOf = ({ what }: Then): string => (what.as === "movie" ? what.name : what.as);

export function ThenLine({
  value,
  onChange,
}: {
  readonly value: Then;
  readonly onChange: (then: Then) => void;
}) {
  const own = useMoviePresets();
  const set = (change: Partial<Then>): void => onChange({ ...value, ...change });
  const offers: readonly (readonly [key: string, text: string, what: Then["what"]])[] = [
    ["nothing", "nothing more", { as: "nothing" }],
    ...MOVIE_PRESETS.map((name) => {
      const { word, sets } = PRESET_FACTS[name];
      return [name, `a movie ${word}`, { as: "movie", name, sets }] as const;
    }),
    ...own.map(({ id, name, movie }) => {
      const key = `own ${id}`;
      return [key, `a movie ${name}`, { as: "movie", name: key, sets: movie }] as const;
    }),
    ["report", "a report", { as: "report" }],
  ];
  return (
    <Box mb="1.5">
      <Flex gap="2" align="center" flexWrap="wrap" minW="0">
        <Text flexShrink={0}>When all frames are good</Text>
        <Box flex="1 1 180px" minW="0" maxW="300px">
          <Select
            label="When all frames are good"
            value={keyOf(value)}
            options={offers.map(([key, text]) => [key, text] as const)}
            onChange={(key) => set({ what: offers.find(([of]) => of === key)![2] })}
          />
        </Box>
      </Flex>
      {value.what.as !== "nothing" && (
        <Flex columnGap="4" align="center" flexWrap="wrap" minW="0" mt="1">
          {value.what.as === "movie" && (
            <>
              <Toggle isOn={value.isDeep} onChange={(isDeep) => set({ isDeep })}>
                deep check first
              </Toggle>
              <Toggle isOn={value.hasReport} onChange={(hasReport) => set({ hasReport })}>
                a report, too
              </Toggle>
            </>
          )}
          <Toggle isOn={value.tells} onChange={(tells) => set({ tells })}>
            tell me
          </Toggle>
          <Box flex="0 1 220px" minW="0">
            <Select<Gaps>
              label="While frames are bad"
              value={value.gaps}
              options={[
                ["stop", "bad frames: wait for patches"],
                ["hold", "bad frames: hold the one before"],
                ["card", "bad frames: a black card"],
              ]}
              onChange={(gaps) => set({ gaps })}
            />
          </Box>
        </Flex>
      )}
    </Box>
  );
}
