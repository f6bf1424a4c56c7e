"use client";
/** What the bad frames share: which node, part or number of samples has more of them than chance would give it. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { CircumstancesView } from "@/contract/circumstances";
import type { SequenceView, SiblingView } from "@/contract/sequence-view";
import { type FrameSet, members, union } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { mapValues, unpackSet, unpackTally } from "@/core/tally/packed";
import {
  type Factor,
  groupsBy,
  groupsOf,
  type OfCamera,
  SELDOM,
  type SharedCause,
  sharedByCamera,
  sharedCauses,
  thirdsOf,
} from "@/core/odd/shared-cause";
import { get } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Caption } from "../page/bench";
import { SetNodeAside } from "../page/set-node-aside";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import type { FilesByFrame } from "../live/files-by-frame";
import { Tip } from "../theme/tip";
import { count, frames } from "../words";
import { UNDERLINED } from "../theme/underlined";

/** Fewer lines than a person takes for a result. */
const SHOWN = 5;

const NOTHING_KNOWN: CircumstancesView = { calls: [], hours: [], warnings: [] };

/** With the day: a shot is rendered in several nights. */
const hourText = (at: number): string =>
  new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });

/** What is known of each frame that could be a cause. */
export function factorsOf(
  files: FilesByFrame,
  nodes: Readonly<Record<string, FrameSet>>,
  stretches: Readonly<Record<string, FrameSet>>,
  /** Null before they are there. */
  { calls, hours, warnings }: CircumstancesView = NOTHING_KNOWN,
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
      groups: Object.entries(stretches).map(([name, own]) => ({ value: `the marker ${name}`, frames: own })),
    },
    {
      name: "call",
      verb: "came from",
      groups: calls.map(({ node, fromMs, frames: own }) => ({
        value: `one call of the renderer on ${node}, begun ${hourText(fromMs)}`,
        frames: unpackSet(own),
      })),
    },
    {
      name: "hour",
      verb: "were written in",
      groups: hours.map(({ fromMs, frames: own }) => ({
        value: `the hour from ${hourText(fromMs)}`,
        frames: unpackSet(own),
      })),
    },
    {
      name: "warning",
      verb: "had the line",
      groups: warnings.map(({ text, frames: own }) => ({ value: `“${text}”`, frames: unpackSet(own) })),
    },
  ];
}

/** What is flagged of this camera's pictures, against those of the same pass of the others. */
function causeOfCamera({ id, siblings }: SequenceView): SharedCause | null {
  const own = siblings.find((one) => one.id === id);
  if (own === undefined) return null;
  const of = ({ camera, tally }: SiblingView): OfCamera => {
    const { flagged, stale, good, unchecked } = unpackTally(tally).results;
    return { camera, bad: flagged, all: [flagged, stale, good, unchecked].reduce(union) };
  };
  const others = siblings.filter(({ camera, pass }) => camera !== own.camera && pass === own.pass);
  return sharedByCamera(of(own), others.map(of));
}

/** A file may come at any moment. */
const ANEW_MS = 30_000;

/** @param bad flagged frames, and odd ones that nobody has dismissed */
export function SharedCauses({ bad, isShown }: { readonly bad: FrameSet; readonly isShown: boolean }) {
  const { files, view } = useSequenceNow();
  const { stretches } = useShotWork();
  const circumstances = useQuery({
    queryKey: queryKeys.circumstances(view.id),
    queryFn: ({ signal }) => get<CircumstancesView>(`/api/sequences/${view.id}/circumstances`, signal),
    enabled: isShown && bad.count > 0,
    refetchInterval: ANEW_MS,
  }).data;
  // Of every frame: not with each key that is pressed.
  const causes = useMemo(() => {
    const camera = causeOfCamera(view);
    return [
      ...sharedCauses(
        bad,
        files.index.set,
        factorsOf(files, mapValues(view.nodes, unpackSet), stretches, circumstances),
      ),
      ...(camera === null ? [] : [camera]),
    ]
      .sort((a, b) => a.chance - b.chance || b.bad - a.bad)
      .slice(0, SHOWN);
  }, [bad, files, view, stretches, circumstances]);
  const [first] = causes;
  if (first === undefined) return null;
  const isTelling = first.chance < SELDOM;
  return (
    <Box mt="5" data-testid="shared-causes">
      <Caption>What the bad ones share</Caption>
      <Text mb="1">
        {isTelling
          ? first.sentence
          : `Nothing that stands out: of ${frames(bad.count)} none has a node, part, hour or number of samples that chance would not give it.`}
      </Text>
      {isTelling && causes.map((cause) => <CauseLine key={`${cause.factor} ${cause.value}`} cause={cause} />)}
    </Box>
  );
}

const chanceText = (chance: number): string =>
  chance < 0.0001 ? "by chance below 0.01 %" : `by chance ${(chance * 100).toPrecision(2)} %`;

function CauseLine({ cause }: { readonly cause: SharedCause }) {
  const { selection } = usePointed();
  const [isAsking, setAsking] = useState(false);
  return (
    <Box py="1" {...UNDERLINED} data-testid="cause" {...(cause.chance < SELDOM ? {} : { color: "softInk" })}>
      <Box overflowWrap="anywhere">{cause.value}</Box>
      <Flex gap="3" align="baseline" className="figures">
        <Text flex="1" minW="0" fontSize="xs">
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
        {cause.factor === "node" && (
          <Tip text={`No run gives ${cause.value} another frame before somebody lets it in again, on Nodes`}>
            <Button size="xs" variant="plain" flexShrink={0} onClick={() => setAsking(true)}>
              Set aside…
            </Button>
          </Tip>
        )}
      </Flex>
      {isAsking && <SetNodeAside node={cause.value} onDone={() => setAsking(false)} />}
    </Box>
  );
}
