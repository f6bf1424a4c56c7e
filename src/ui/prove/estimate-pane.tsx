"use client";
/**
 * How long, how big, when; what it rests on; and what would be there in time.
 * Two times are told and never one: the likely one, and the one that nine runs in ten keep. What they rest
 * on stands beside them, since figures from one proof and from fifty look alike.
 */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { type WayBack, waysBack } from "@/core/estimate/estimate";
import { firstOf, lastOf, rangeSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { Plan } from "@/core/plan/plan";
import { Caption, Line } from "../page/bench";
import { useNow } from "../page/header";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { clock, count, duration, frames, size } from "../words";
import { CostChart } from "./cost-chart";
import { readClock } from "@/core/timing/clock";
import { useStorage } from "../shot/use-storage";
import type { PlanEstimate } from "./use-estimate";
import { basisText, crowdedText, lightText, percentText, wayText } from "./words";
import type { ProofsView } from "@/contract/proof-view";

/** Without a proof it says what to do, and tells the room that the files will take all the same. */
export function EstimatePane({
  view,
  estimate,
}: {
  readonly view: ProofsView;
  /** Null while nothing was timed, or nothing is left to render. */
  readonly estimate: PlanEstimate | null;
}) {
  const {
    draft: { read, plan },
  } = useShotWork();
  const { tally } = useSequenceNow();
  const now = useNow();
  if (read === null)
    return <Text color="brick">Something in the plan needs mending; then the figures are here.</Text>;
  if (estimate === null) {
    return (
      <>
        <Caption>How long, how big, when</Caption>
        <Text color="softInk" mb="2">
          {tally.results.good.count > 0 && tally.results.good.count === tally.asked.count
            ? "All frames are there; nothing is left to estimate."
            : "Nothing has been timed yet. A proof of the first, the middle and the last frame tells how long the run will take."}
        </Text>
        <Storage view={view} plan={plan} frames={read.asked.count} />
      </>
    );
  }
  const {
    estimate: { likelySeconds, lateSeconds },
    model,
    request,
  } = estimate;
  return (
    <>
      <Flex gap="6" align="baseline" className="figures" mb="1" data-testid="estimate">
        <Box>
          <Text color="softInk" fontSize="xs">
            likely
          </Text>
          <Text fontSize="lg" fontWeight="700">
            {now === null ? "" : clock(now + likelySeconds * 1000, now)}
          </Text>
          <Text fontSize="xs">in {duration(likelySeconds)}</Text>
        </Box>
        <Box>
          <Text color="softInk" fontSize="xs">
            nine times in ten by
          </Text>
          <Text fontSize="lg" fontWeight="700">
            {now === null ? "" : clock(now + lateSeconds * 1000, now)}
          </Text>
          <Text fontSize="xs">in {duration(lateSeconds)}</Text>
        </Box>
        <Box flex="1" fontSize="xs" color="softInk">
          <Text>
            {frames(request.frames.count)}
            {request.cameras > 1 ? ` from ${request.cameras} cameras` : ""} on {count(estimate.nodes)}{" "}
            {estimate.nodes === 1 ? "node" : "nodes"}, if it started now.
          </Text>
          {estimate.crowded.length > 0 && <Text data-testid="crowded">{crowdedText(estimate.crowded)}</Text>}
          {estimate.lighting.caches > 0 && (
            <Text
              data-testid="lighting-part"
              {...(estimate.lighting.seconds === null ? { color: "ochre" } : {})}
            >
              {lightText(estimate.lighting)}
            </Text>
          )}
          <Text data-testid="basis">{basisText(estimate.proofs, estimate.history, model)}</Text>
        </Box>
      </Flex>
      <CostChart estimate={estimate} />
      <PartsBar estimate={estimate} />
      {estimate.grain !== null && (
        <Line label="Grain">
          about {percentText(estimate.grain)} of white at {count(plan.samples)} samples
          {plan.passes.includes("denoised") ? ", before it is denoised" : ""}
        </Line>
      )}
      <Storage view={view} plan={plan} frames={request.frames.count} />
      <Backwards estimate={estimate} />
    </>
  );
}

/** In the order in which a frame goes through them. */
const PARTS = [
  ["start-up", "startup", "softInk"],
  ["gathered light", "lighting", "ink"],
  ["render", "render", "petrol"],
  ["denoise", "denoise", "plum"],
  ["write", "write", "ochre"],
] as const;

/** The parts of the work as one bar. */
function PartsBar({
  estimate: {
    estimate: { work },
  },
}: {
  readonly estimate: PlanEstimate;
}) {
  const parts = PARTS.filter(([, part]) => part === "render" || work[part] > 0);
  const total = parts.reduce((sum, [, part]) => sum + work[part], 0);
  return (
    <Box my="1.5">
      <Flex
        h="10px"
        role="img"
        aria-label={parts.map(([word, part]) => `${word} ${duration(work[part])}`).join(", ")}
      >
        {parts.map(([word, part, ink]) => (
          <Box key={word} bg={ink} w={`${(work[part] / total) * 100}%`} />
        ))}
      </Flex>
      <Flex gap="4" fontSize="12px" className="figures" flexWrap="wrap">
        {parts.map(([word, part, ink]) => (
          <Flex key={word} gap="1" align="center">
            <Box w="8px" h="8px" bg={ink} />
            {word} {duration(work[part])}
          </Flex>
        ))}
        <Text color="softInk">of work on one node</Text>
      </Flex>
    </Box>
  );
}

/**
 * Files and saved samples against what is free. Measured sizes where proofs tell them, guesses where they do
 * not.
 */
function Storage({
  view,
  plan,
  frames: n,
}: {
  readonly view: ProofsView;
  readonly plan: Plan;
  readonly frames: number;
}) {
  const { parts, saved, total: need } = useStorage(plan, n);
  const isShort = view.freeBytes !== null && need > view.freeBytes;
  return (
    <Line label="On disk">
      <Box as="span" color={isShort ? "brick" : "ink"}>
        {size(need)}
        {view.freeBytes === null
          ? ""
          : isShort
            ? `, and only ${size(view.freeBytes)} are free`
            : ` of ${size(view.freeBytes)} free`}
      </Box>
      {parts.length > 1 && (
        <Box as="span" color="softInk">
          : {parts.map((part) => `${part.pass} ${size(part.bytes)}`).join(", ")}
        </Box>
      )}
      {saved > 0 && (
        <Box as="span" color="softInk">
          ; {size(saved)} of it samples that are saved {plan.keepSamples ? "and kept" : "while it goes"}
        </Box>
      )}
      {!parts.every((part) => part.isMeasured) && (
        <Box as="span" color="softInk">
          ; guessed from format and size
        </Box>
      )}
    </Line>
  );
}

/** Milliseconds from now until the clock next shows a time; null for a text that is none. */
function untilClock(text: string, now: number): number | null {
  const time = readClock(text);
  if (time === null) return null;
  const at = new Date(now);
  at.setHours(time.hours, time.minutes, 0, 0);
  if (at.getTime() <= now) at.setDate(at.getDate() + 1);
  return at.getTime() - now;
}

/** From the deadline to the plan: each single change that would get there, with what it costs the picture. */
function Backwards({ estimate: { model, request, estimate } }: { readonly estimate: PlanEstimate }) {
  const {
    draft: { plan, change },
  } = useShotWork();
  const now = useNow();
  const [by, setBy] = useState("08:00");
  // The deadline moves on by the minute, the search need not run by the second.
  const seconds = now === null ? null : Math.round((untilClock(by, now) ?? NaN) / 60_000) * 60;
  const ways = useMemo(
    () => (seconds === null || Number.isNaN(seconds) ? [] : waysBack(model, request, seconds)),
    [model, request, seconds],
  );
  const isInTime = seconds !== null && estimate.lateSeconds <= seconds;
  const apply = (way: WayBack): Partial<Plan> | null => {
    switch (way.change) {
      case "samples":
        return { samples: way.samples, minSamples: Math.min(plan.minSamples, way.samples) };
      // Tile by tile there is no whole picture to stop with.
      case "time-limit":
        return { timeLimit: way.seconds, sampling: "rounds" };
      case "scale":
        return { scale: Math.max(1, Math.floor(plan.scale * way.factor)) };
      case "step":
        return {
          frames: formatPhrase(rangeSet(firstOf(request.frames)!, lastOf(request.frames)!, way.step)),
        };
      case "nodes":
        return null;
    }
  };
  return (
    <Box mt="2" role="group" aria-label="Backwards">
      <Flex gap="2" align="center" mb="0.5">
        <Text fontWeight="700">It must be there by</Text>
        <Input
          size="xs"
          w="64px"
          fontFamily="mono"
          bg="paper"
          aria-label="There by"
          value={by}
          onChange={(event) => setBy(event.target.value)}
        />
        <Text color="softInk" role="status">
          {seconds === null || Number.isNaN(seconds)
            ? "Write a time, such as 08:00."
            : isInTime
              ? "As planned it will be."
              : ways.length === 0
                ? "No single change gets there."
                : "Each of these alone gets there:"}
        </Text>
      </Flex>
      {ways.map((way) => {
        const text = wayText(way, plan.scale);
        const edits = apply(way);
        return (
          <Flex key={way.change} gap="3" align="baseline" fontSize="xs" className="figures">
            <Text w="150px" flexShrink={0} fontWeight="700">
              {text.change}
            </Text>
            <Text flex="1" color="softInk">
              {text.price}
            </Text>
            {edits !== null && (
              <Button size="xs" variant="plain" onClick={() => change(edits)}>
                Put it into the plan
              </Button>
            )}
          </Flex>
        );
      })}
    </Box>
  );
}
