"use client";
/** When a frame is done: samples, noise or time, whichever comes first. */
import { Flex } from "@chakra-ui/react";
import { useShotWork } from "../shot/shot-context";
import { EntryGroup, NumberField, NumberInput, Remark, Toggle, Two } from "./fields";

const USUAL_NOISE = 0.01;
const USUAL_LIMIT_SECONDS = 600;

export function QualityGroup() {
  const { plan, change } = useShotWork().draft;
  return (
    <Flex direction="column" gap="2.5">
      <Two><NumberField field="samples" label="Samples a pixel, at most" hint="half the grain costs 4 times the samples" /><NumberField field="minSamples" label="and at least" /></Two>
      <Two>
        <EntryGroup field="noiseTarget" label="Ends early at a low noise">
          <Flex gap="3" align="center" w="full">
            <Toggle isOn={plan.noiseTarget !== null} onChange={(isOn) => change({ noiseTarget: isOn ? USUAL_NOISE : null })}>{plan.noiseTarget === null ? "no" : "percent of white"}</Toggle>
            {plan.noiseTarget !== null && <NumberInput label="Noise, percent of white" value={Math.round(plan.noiseTarget * 1e6) / 1e4} onChange={(percent) => change({ noiseTarget: percent / 100 })} />}
          </Flex>
        </EntryGroup>
        <EntryGroup field="timeLimit" label="Ends at a time limit">
          <Flex gap="3" align="center" w="full">
            <Toggle isOn={plan.timeLimit !== null} onChange={(isOn) => change({ timeLimit: isOn ? USUAL_LIMIT_SECONDS : null })}>{plan.timeLimit === null ? "no" : "seconds"}</Toggle>
            {plan.timeLimit !== null && <NumberInput label="Render seconds a frame" value={plan.timeLimit} onChange={(timeLimit) => change({ timeLimit })} />}
          </Flex>
        </EntryGroup>
      </Two>
      <Remark>Whatever comes first ends a frame; its attempt says which, and the frame keeps the number of samples it reached. The time limit counts the render seconds of all attempts together.</Remark>
    </Flex>
  );
}
