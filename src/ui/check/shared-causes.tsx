"use client";
/** What the bad frames share: which node, part or number of samples has more of them than chance would give it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import { type FrameSet, members } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { mapValues, unpackSet } from "@/core/tally/packed";
import {
  type Factor,
  groupsBy,
  groupsOf,
  SELDOM,
  type SharedCause,
  sharedCauses,
  thirdsOf,
} from "@/core/odd/shared-cause";
import { Caption } from "../page/bench";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import type { FilesByFrame } from "../live/files-by-frame";
import { count, frames } from "../words";

/** Fewer lines than a person takes for a result. */
const SHOWN = 5;

/** What is known of each frame that could be a cause. */
export function factorsOf(
  files: FilesByFrame,
  nodes: Readonly<Record<string, FrameSet>>,
  stretches: Readonly<Record<string, FrameSet>>,
): readonly Factor[] {
  const all = files.index.set;
  const every = [...members(all)];
  return [
    { name: "node", verb: "came from", groups: groupsOf(nodes) },
    {
      name: "samples",
      verb: "have",
      groups: groupsBy(every, (frame) => {
        const samples = files.at(frame)?.samples ?? null;
        return samples === null ? null : `${samples} samples`;
      }),
    },
    { name: "part", verb: "lie in", groups: thirdsOf(all) },
    {
      name: "marker",
      verb: "lie in",
      groups: groupsOf(stretches),
    },
  ];
}

/** @param bad flagged frames, and odd ones that nobody has dismissed */
export function SharedCauses({ bad }: { readonly bad: FrameSet }) {
  const { files, view } = useSequenceNow();
  const { stretches } = useShotWork();
  // Of every frame: not with each key that is pressed.
  const causes = useMemo(
    () =>
      sharedCauses(bad, files.index.set, factorsOf(files, mapValues(view.nodes, unpackSet), stretches)).slice(
        0,
        SHOWN,
      ),
    [bad, files, view.nodes, stretches],
  );
  const [first] = causes;
  if (first === undefined) return null;
  const isTelling = first.chance < SELDOM;
  return (
    <Box mt="5" data-testid="shared-causes">
      <Caption>What the bad ones share</Caption>
      <Text mb="1">
        {isTelling
          ? first.sentence
          : `Nothing that stands out: of ${frames(bad.count)} none has a node, part or number of samples that chance would not give it.`}
      </Text>
      {isTelling && causes.map((cause) => <CauseLine key={`${cause.factor} ${cause.value}`} cause={cause} />)}
    </Box>
  );
}

const chanceText = (chance: number): string =>
  chance < 0.0001 ? "by chance below 0.01 %" : `by chance ${(chance * 100).toPrecision(2)} %`;

function CauseLine({ cause }: { readonly cause: SharedCause }) {
  const { selection } = usePointed();
  return (
    <Flex
      gap="3"
      py="1"
      align="baseline"
      borderBottomWidth="1px"
      borderStyle="dotted"
      borderColor="rule"
      className="figures"
      data-testid="cause"
      {...(cause.chance < SELDOM ? {} : { color: "softInk" })}
    >
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {cause.value}
      </Box>
      <Text flexShrink={0} fontSize="xs">
        {count(cause.bad)} of its {count(cause.count)} bad
        {cause.lift === null ? ", elsewhere none" : `, ${cause.lift.toFixed(1)} times elsewhere`};{" "}
        {chanceText(cause.chance)}
      </Text>
      <Button
        size="xs"
        variant="plain"
        flexShrink={0}
        onClick={() => selection.write(formatPhrase(cause.frames))}
      >
        Select all {count(cause.count)}
      </Button>
    </Flex>
  );
}
