"use client";
/**
 * Patch: the shortest list of frames that must be rendered again, with the reason for each.
 * The left side says of which frames, the right side which of them and why, the foot starts the run. Every
 * figure is the decision of `core/run/what-to-render`, which the start makes again on fresh facts: the list
 * cannot promise what the run does not do.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import type { StartRunBody } from "@/contract/bodies";
import { framesToRender, type Policy } from "@/core/run/what-to-render";
import { mapValues, unpackSet } from "@/core/tally/packed";
import { todoOf } from "@/core/tally/tally";
import { grown, intersection, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { groupsOf } from "@/core/odd/shared-cause";
import { type LeftOut, leftOut, saysOfRenderer } from "@/core/run/leave-out";
import { NumberInput, Toggle } from "../fields/fields";
import { useLive } from "../live/live-store";
import { Bench, Caption, Line } from "../page/bench";
import { OneOf } from "../page/choices";
import { DecisionLines, StartRun } from "../run/decision";
import { PreflightList, usePreflight } from "../run/preflight";
import { useDecision } from "../run/use-decision";
import { useSequenceNow, usePointed, useShotWork } from "../shot/shot-context";
import { count, duration, frames, size } from "../words";
import { useAsideFiles } from "../live/queries";
import { CloseCase } from "./close-case";
import { ReplacedPane } from "./replaced-pane";

/** Frames beside each that a list may grow by. */
const MOST_BESIDE = 100;

/** Nodes that made what is wrong, while others are awake. */
function useLeftOut(): readonly LeftOut[] {
  const { view, files } = useSequenceNow();
  const { nodes } = useLive();
  return useMemo(() => {
    const bad = setOf(view.findings.filter(saysOfRenderer).map((f) => f.frame));
    if (bad.count === 0) return [];
    const all = files.index.set;
    const awake = nodes.filter(({ state }) => state === "idle" || state === "at-work");
    return leftOut(
      bad,
      all,
      groupsOf(mapValues(view.nodes, unpackSet)),
      awake.map(({ name }) => name),
    );
  }, [view.findings, view.nodes, files, nodes]);
}

type PatchScope = "fill" | "mend" | "selection";

/**
 * Nothing is decided here: the list is the decision of a run with the policy "mend", and its button starts
 * that run.
 */
export function PatchBench({
  scope,
  onScope,
}: {
  /** Kept by the page, so that it is the same when one comes back. */
  readonly scope: PatchScope;
  readonly onScope: (scope: PatchScope) => void;
}) {
  const { tally, view } = useSequenceNow();
  const { selection } = usePointed();
  const { bench } = useShotWork();
  const aside = useAsideFiles(view.id, bench === "patch");
  const [hasGood, setGood] = useState(false);
  const [beside, setBeside] = useState(1);
  const suspects = useLeftOut();
  /** As somebody chose; undefined: nobody did. */
  const [chosen, setNodes] = useState<readonly string[] | null | undefined>(undefined);
  const names = useLive().nodes.map(({ name }) => name);
  const nodes =
    chosen !== undefined
      ? chosen
      : suspects.length === 0
        ? null
        : names.filter((name) => suspects.every(({ node }) => node !== name));
  const policy: Policy = scope === "fill" ? "fill" : scope === "selection" && hasGood ? "all" : "mend";
  const wanted = scope === "selection" ? selection.set : tally.asked;
  const phrase = scope === "selection" ? formatPhrase(wanted) : "all";
  const decision = useDecision(phrase, policy, "version", false);
  const request: StartRunBody = { phrase: phrase === "" ? "all" : phrase, policy, scope: "version", nodes };
  const preflight = usePreflight(
    bench === "patch" && (decision?.frames ?? 0) > 0 && nodes?.length !== 0 ? request : null,
  );
  const toRender = decision?.focus?.toRender.count ?? 0;
  const todo = todoOf(tally);
  const figure = (set: typeof wanted, p: Policy): string =>
    frames(framesToRender(tally, set, p).toRender.count);
  const seconds = view.files.seconds.filter((s): s is number => s !== null);
  // Of this sequence alone: other shots say little of how long its frames take.
  const mean = seconds.length === 0 ? null : seconds.reduce((a, b) => a + b, 0) / seconds.length;
  return (
    <Bench
      left={
        <>
          <Caption>Render again</Caption>
          <OneOf<PatchScope>
            label="Render again"
            value={scope}
            onChange={onScope}
            options={[
              { key: "fill", text: "What is missing or failed", figure: figure(tally.asked, "fill") },
              {
                key: "mend",
                text: "That, and what is flagged or out of date",
                figure: figure(tally.asked, "mend"),
              },
              {
                key: "selection",
                text: hasGood ? "What is selected on the band" : "Of that, only what is selected on the band",
                figure: figure(selection.set, hasGood ? "all" : "mend"),
              },
            ]}
          />
          {scope === "selection" && (
            <Box mt="1" ml="6">
              <Toggle isOn={hasGood} onChange={setGood}>
                Good ones, too
              </Toggle>
            </Box>
          )}
          {todo.count > 0 && (
            <Flex mt="3" gap="2" align="center">
              <Text>Select the list and</Text>
              <Box w="64px">
                <NumberInput label="Frames beside each" value={beside} step={1} onChange={setBeside} />
              </Box>
              <Text>beside each:</Text>
              <Button
                size="xs"
                variant="outline"
                disabled={!(Number.isInteger(beside) && beside >= 0 && beside <= MOST_BESIDE)}
                onClick={() => {
                  selection.write(formatPhrase(intersection(grown(todo, beside), tally.asked)));
                  setGood(beside > 0);
                  onScope("selection");
                }}
              >
                Grow
              </Button>
            </Flex>
          )}
          {chosen === undefined && suspects.length > 0 && (
            <Box mt="3" data-testid="left-out">
              {suspects.map(({ node, bad, of }) => (
                <Text key={node}>
                  <b>{node}</b> is left out: {count(bad)} of the {count(of)} bad frames whose maker is known
                  came from it.
                </Text>
              ))}
              <Button size="xs" variant="plain" onClick={() => setNodes(null)}>
                Let every node take part
              </Button>
            </Box>
          )}
        </>
      }
      foot={<StartRun decision={decision} request={request} preflight={preflight} onNodes={setNodes} />}
      right={
        <>
          {aside.data !== undefined && !aside.data.areSmall && <ReplacedPane aside={aside.data} />}
          <Caption>The patch list</Caption>
          {todo.count === 0 && (
            <Text color="softInk" mb="2">
              Nothing is missing, failed, flagged or out of date.
            </Text>
          )}
          {decision !== null && <DecisionLines decision={decision} />}
          {mean !== null && toRender > 0 && (
            <Line label="Work in it">
              about {duration(mean * toRender)} on one node, from {count(seconds.length)} frames so far
            </Line>
          )}
          <Line label="Replaced files">
            kept aside in{" "}
            <Box as="span" fontFamily="mono" fontSize="xs">
              .tally/aside
            </Box>
            {aside.data !== undefined && aside.data.count > 0
              ? `: ${count(aside.data.count)} so far, ${size(aside.data.bytes)}; they go ${aside.data.keptDays} days after, once what replaced them is good`
              : ""}
          </Line>
          {aside.data !== undefined && <CloseCase aside={aside.data} />}
          {(decision?.frames ?? 0) > 0 && (
            <PreflightList request={request} result={preflight} onNodes={setNodes} />
          )}
        </>
      }
    />
  );
}

export type { PatchScope };
