"use client";
/**
 * Prove: a few frames through the real path, apart from the sequence; then how long, how big, when.
 * Proofs go before all runs and stay apart from the sequence; the stretch is the exception, it is the run's
 * own first ten frames. The plan is proved as it stands in the draft, saved or not.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { nextProof } from "@/core/estimate/cost-model";
import { type FrameSet, memberAt, firstOf, rangeSet, intersection, lastOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { framesToRender } from "@/core/run/what-to-render";
import { phraseNames } from "@/core/tally/names";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { messageOf, post } from "../live/api";
import { useProofs } from "../live/queries";
import { Bench, Caption } from "../page/bench";
import { NodeChoice, OneOf } from "../page/choices";
import { Refusal } from "../page/states";
import { Tip } from "../theme/tip";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { count, frames } from "../words";
import { EstimatePane } from "./estimate-pane";
import { ProofPictures } from "./proof-pictures";
import { StripPictures } from "./strip-pictures";
import { startedText } from "./words";
import { usePlanEstimate } from "./use-estimate";
import { queryKeys } from "../live/query-keys";

/**
 * Single frames for time and grain, a strip for how many samples, a stretch for what only shows in motion.
 */
type Kind = "frames" | "strip" | "stretch";

/** Frames that are enough to see grain and flicker move, and few enough to wait for. */
const STRETCH = 10;

/** What is chosen here is the bench's; the phrase is kept by the page, as the band fills it too. */
export function ProveBench({
  phrase,
  onPhrase,
}: {
  /** Of the proof frames. */
  readonly phrase: string;
  readonly onPhrase: (phrase: string) => void;
}) {
  const {
    draft: { read },
    stretches,
  } = useShotWork();
  const { view } = useSequenceNow();
  const [kind, setKind] = useState<Kind>("frames");
  const [strip, setStrip] = useState("16, 64, 256");
  const [stripFrame, setStripFrame] = useState("middle");
  const [nodes, setNodes] = useState<readonly string[] | null>(null);
  const proofs = useProofs(view.id);
  const estimate = usePlanEstimate(proofs.data, nodes);
  const asked = read?.asked ?? rangeSet(1, 0);
  const names = phraseNames({ tally: deriveTally({ ...NO_FACTS, asked }), markers: stretches, nodes: {} });
  const wanted = parsePhrase(kind === "strip" ? stripFrame : phrase, names);
  const samples = readSamples(strip);
  const timed = proofs.data?.proofs.flatMap((p) => p.frames.map((f) => f.cost.frame)) ?? [];
  return (
    <Bench
      left={
        <>
          <OneOf<Kind>
            label="What to prove"
            value={kind}
            onChange={setKind}
            options={[
              {
                key: "frames",
                text: (
                  <Flex as="span" gap="2" align="center">
                    Proof frames{" "}
                    <Input
                      size="xs"
                      w="200px"
                      fontFamily="mono"
                      bg="paper"
                      aria-label="Proof frames"
                      value={phrase}
                      onFocus={() => setKind("frames")}
                      onChange={(event) => onPhrase(event.target.value)}
                    />
                  </Flex>
                ),
                figure: <NextPlace asked={asked} timed={timed} phrase={phrase} onPhrase={onPhrase} />,
              },
              {
                key: "strip",
                text: (
                  <Flex as="span" gap="2" align="center">
                    Test strip of frame{" "}
                    <Input
                      size="xs"
                      w="80px"
                      fontFamily="mono"
                      bg="paper"
                      aria-label="Frame of the test strip"
                      value={stripFrame}
                      onFocus={() => setKind("strip")}
                      onChange={(event) => setStripFrame(event.target.value)}
                    />{" "}
                    at{" "}
                    <Input
                      size="xs"
                      w="110px"
                      fontFamily="mono"
                      bg="paper"
                      aria-label="Samples of the test strip"
                      value={strip}
                      onFocus={() => setKind("strip")}
                      onChange={(event) => setStrip(event.target.value)}
                    />{" "}
                    samples
                  </Flex>
                ),
              },
              { key: "stretch", text: `The first ${STRETCH} in motion, as part of the real run` },
            ]}
          />
          {!wanted.ok && kind !== "stretch" && <Refusal>{wanted.error.message}</Refusal>}
          {kind === "strip" && samples === null && (
            <Refusal>Write up to six numbers of samples, such as 16, 64, 256.</Refusal>
          )}
          {proofs.error !== null && <Refusal>{messageOf(proofs.error)}</Refusal>}
          {proofs.data === undefined ? (
            proofs.error === null && <Text color="softInk">Loading the proofs.</Text>
          ) : kind === "strip" ? (
            <StripPictures view={proofs.data} frame={wanted.ok ? firstOf(wanted.set) : null} />
          ) : kind === "frames" ? (
            <ProofPictures view={proofs.data} />
          ) : (
            <StretchState />
          )}
        </>
      }
      foot={
        <Start
          kind={kind}
          phrase={kind === "strip" ? stripFrame : phrase}
          wanted={wanted.ok ? wanted.set : null}
          strip={kind === "strip" ? samples : null}
          nodes={nodes}
          onNodes={setNodes}
        />
      }
      right={
        proofs.data === undefined ? (
          <Text color="softInk">Loading the figures.</Text>
        ) : (
          <EstimatePane view={proofs.data} estimate={estimate} />
        )
      }
    />
  );
}

/** Numbers of samples, or null where the text is not such. */
function readSamples(text: string): number[] | null {
  const numbers = text
    .split(/[\s,]+/)
    .filter((part) => part !== "")
    .map(Number);
  return numbers.length === 0 ||
    numbers.length > 6 ||
    numbers.some((n) => !Number.isInteger(n) || n < 1 || n > 65_536)
    ? null
    : [...new Set(numbers)];
}

/** The frame whose proof would make the estimate surest, where it is not the one that is asked for. */
function NextPlace({
  asked,
  timed,
  phrase,
  onPhrase,
}: {
  readonly asked: FrameSet;
  readonly timed: readonly number[];
  readonly phrase: string;
  readonly onPhrase: (phrase: string) => void;
}) {
  const frame = timed.length === 0 ? null : nextProof(asked, timed);
  if (frame === null || phrase === String(frame)) return null;
  return (
    <Tip text={`The estimate is least sure at ${frame}: a proof there would tell most`}>
      <Button size="xs" variant="plain" onClick={() => onPhrase(String(frame))}>
        Next: frame {frame}
      </Button>
    </Tip>
  );
}

interface StartProps {
  readonly kind: Kind;
  /** As it is sent: the server reads it again. */
  readonly phrase: string;
  /** What the phrase means; null while it cannot be read. */
  readonly wanted: FrameSet | null;
  /** Numbers of samples; null where it is no strip. */
  readonly strip: readonly number[] | null;
  readonly nodes: readonly string[] | null;
  readonly onNodes: (nodes: readonly string[] | null) => void;
}

/**
 * The button says what it will render and on how many nodes; beside it stands what keeps it from starting.
 */
function Start({ kind, phrase, wanted, strip, nodes, onNodes }: StartProps) {
  const {
    draft: { plan, read, changed },
  } = useShotWork();
  const { view } = useSequenceNow();
  const client = useQueryClient();
  const start = useMutation({
    mutationFn: () =>
      post<{ runs: number[]; frames: string }>(`/api/sequences/${view.id}/proofs`, {
        phrase,
        plan,
        nodes,
        strip,
      }),
    onSuccess: () => client.invalidateQueries({ queryKey: queryKeys.allProofs }),
  });
  const proofs = useProofs(view.id);
  const noNodes = nodes !== null && nodes.length === 0;
  const pictures = (wanted?.count ?? 0) * (strip?.length ?? plan.cameras.length);
  const isWrong =
    wanted === null ||
    wanted.count === 0 ||
    read === null ||
    (kind === "strip" && (strip === null || wanted.count !== 1));
  return (
    <>
      <Flex gap="4" mb="2">
        <Text color="softInk">On</Text>
        <NodeChoice value={nodes} onChange={onNodes} />
      </Flex>
      {noNodes && (
        <Text color="ochre" mb="2">
          No node may take part: choose at least one.
        </Text>
      )}
      {kind === "stretch" ? (
        <StretchStart nodes={nodes} />
      ) : (
        <Flex gap="4" align="center">
          <Button
            size="sm"
            flexShrink={0}
            disabled={isWrong || noNodes}
            loading={start.isPending}
            onClick={() => start.mutate()}
          >
            {kind === "strip" ? `Render the strip, ${count(pictures)} pictures` : `Prove ${frames(pictures)}`}
          </Button>
          {start.isSuccess && <Text role="status">{startedText(start.data, proofs.data)}</Text>}
          {changed.length > 0 && <Text color="softInk">with your edits, saved or not</Text>}
          {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
        </Flex>
      )}
    </>
  );
}

/** The first ten frames of the saved plan, and what of them is there. */
function useStretch() {
  const { tally } = useSequenceNow();
  const end = memberAt(tally.asked, Math.min(STRETCH, tally.asked.count) - 1);
  const first = firstOf(tally.asked);
  const set =
    first === null || end === null ? rangeSet(1, 0) : intersection(tally.asked, rangeSet(first, end));
  return {
    set,
    toRender: framesToRender(tally, set, "fill").toRender,
    good: intersection(set, tally.results.good),
    rest: framesToRender(tally, tally.asked, "fill").toRender,
  };
}

/** What of the stretch is there, and how it looks in motion. */
function StretchState() {
  const { look } = useShotWork();
  const { set, good } = useStretch();
  const [first, last] = [firstOf(set), lastOf(set)];
  return (
    <Box>
      <Caption>Grain and flicker only show when it moves</Caption>
      <Text mb="2">
        Of {formatPhrase(set)}, {count(good.count)} {good.count === 1 ? "is" : "are"} good. They are frames of
        the sequence and stay.
      </Text>
      {first !== null && last !== null && (
        <Button size="sm" variant="outline" disabled={good.count < 2} onClick={() => look(first, last)}>
          Play {formatPhrase(set)} in a loop
        </Button>
      )}
    </Box>
  );
}

/**
 * The first ten are frames of the run: they are started as one, with the saved plan, and the run goes on
 * behind them.
 */
function StretchStart({ nodes }: { readonly nodes: readonly string[] | null }) {
  const {
    draft: { changed },
    shot,
  } = useShotWork();
  const { view } = useSequenceNow();
  const { set, toRender, rest } = useStretch();
  const start = useMutation({
    mutationFn: (phrase: string) =>
      post<{ runId: number; frames: number }>(`/api/sequences/${view.id}/runs`, {
        phrase,
        policy: "fill",
        nodes,
        scope: "version",
      }),
  });
  const noNodes = nodes !== null && nodes.length === 0;
  return (
    <>
      {changed.length > 0 && (
        <Text color="ochre" mb="1">
          The plan has edits that are not saved; this renders revision {shot.revision}.
        </Text>
      )}
      <Flex gap="4" align="center">
        {toRender.count > 0 ? (
          <Button
            size="sm"
            disabled={noNodes}
            loading={start.isPending}
            onClick={() => start.mutate(formatPhrase(set))}
          >
            Render {formatPhrase(toRender)}
          </Button>
        ) : (
          <Button
            size="sm"
            disabled={rest.count === 0 || noNodes}
            loading={start.isPending}
            onClick={() => start.mutate("all")}
          >
            {rest.count === 0 ? "Nothing is left" : `Go on with the other ${count(rest.count)}`}
          </Button>
        )}
        {start.isSuccess && (
          <Text role="status">
            Run {start.data.runId} has begun with {frames(start.data.frames)}.
          </Text>
        )}
        {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
      </Flex>
    </>
  );
}
