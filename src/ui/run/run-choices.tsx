"use client";
/** What is decided of the next run: which frames, under which policy, by whom. */
import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { framesToRender, POLICIES, type Policy } from "@/core/run/what-to-render";
import { asFresh } from "@/core/tally/tally";
import { Caption } from "../page/bench";
import { OneOf } from "../page/choices";
import { Refusal } from "../page/states";
import { Toggle } from "../fields/fields";
import { Meant } from "../fields/meant";
import { nextVersionName } from "../shot/plan-words";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { frames } from "../words";
import { AlsoVersions, ScopeChoice } from "./decision";
import { firstShares, ShareFields } from "./hand-out";
import type { RunChoice, RunPlan, RunScope } from "./use-run-wish";
import { POLICY_TEXT } from "./words";

/** Frames, policy, nodes, and by what they go. Choices that would render nothing say so in place. */
export function RunChoices({
  choice,
  onChoice,
  plan,
}: {
  /** Kept by the page, since the band fills it, too. */
  readonly choice: RunChoice;
  readonly onChoice: (choice: RunChoice) => void;
  /** What follows from the choice, and what else is wished. */
  readonly plan: RunPlan;
}) {
  const { shot } = useShotWork();
  const { tally: own } = useSequenceNow();
  const { selection } = usePointed();
  const { wish, change, wanted, free, phraseError } = plan;
  const { shares } = wish;
  const tally = wish.inNextVersion ? asFresh(own) : own;
  return (
    <>
      <Caption>Which frames</Caption>
      <OneOf<RunScope>
        label="Which frames"
        value={choice.scope}
        onChange={(scope) => onChoice({ ...choice, scope })}
        options={[
          { key: "all", text: "All of the plan", figure: frames(tally.asked.count) },
          { key: "selection", text: "What is selected on the band", figure: frames(selection.set.count) },
          {
            key: "phrase",
            text: (
              <Flex as="span" gap="2" align="center">
                A phrase{" "}
                <Input
                  size="xs"
                  w="220px"
                  fontFamily="mono"
                  bg="paper"
                  aria-label="Frames to run"
                  placeholder="1001-1010, missing"
                  value={choice.phrase}
                  onChange={(event) => onChoice({ scope: "phrase", phrase: event.target.value })}
                />
              </Flex>
            ),
          },
        ]}
      />
      {choice.scope === "phrase" && (
        <Meant text={choice.phrase} onTake={(phrase) => onChoice({ scope: "phrase", phrase })} />
      )}
      {phraseError !== null && (
        <Box mb="2">
          <Refusal>{phraseError.message}</Refusal>
        </Box>
      )}
      <Caption>Of these, render</Caption>
      <OneOf<Policy>
        label="Of these, render"
        value={wish.policy}
        onChange={(policy) => change({ policy })}
        options={POLICIES.map((key) => ({
          key,
          text: POLICY_TEXT[key],
          figure: frames(framesToRender(tally, wanted, key).toRender.count),
        }))}
      />
      {shares === null && <ScopeChoice value={wish.scope} onChange={(scope) => change({ scope })} />}
      {shares === null && !wish.inNextVersion && (
        <AlsoVersions value={wish.also} onChange={(also) => change({ also })} />
      )}
      {shares === null && (
        <Box mb="2.5">
          <Toggle isOn={wish.inNextVersion} onChange={(inNextVersion) => change({ inNextVersion })}>
            In a version of its own,{" "}
            <Box as="span" fontFamily="mono">
              {nextVersionName(shot)}
            </Box>
            , with the same plan
          </Toggle>
        </Box>
      )}
      {shares === null ? (
        free.count > 0 && (
          <Button size="xs" variant="plain" px="0" onClick={() => change({ shares: firstShares(free) })}>
            Hand them out to machines that are not connected
          </Button>
        )
      ) : (
        <>
          <Flex justify="space-between" align="baseline">
            <Caption>Handed out to machines that are not connected</Caption>
            <Button size="xs" variant="plain" onClick={() => change({ shares: null })}>
              Let nodes render them
            </Button>
          </Flex>
          <ShareFields value={shares} toRender={free} onChange={(next) => change({ shares: next })} />
        </>
      )}
    </>
  );
}
