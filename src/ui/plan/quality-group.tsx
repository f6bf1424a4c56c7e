"use client";
/** When a frame is done: samples, noise or time, whichever comes first. */
import { Flex, Text } from "@chakra-ui/react";
import { type CheckpointRule, USUAL_CHECKPOINTS } from "@/core/plan/checkpoint-rule";
import { planCheckpointBytes } from "@/core/run/checkpoint";
import type { Sampling } from "@/core/plan/picture";
import { isExternal } from "@/core/plan/renderer";
import { useShotWork } from "../shot/shot-context";
import { size } from "../words";
import { Entry, EntryGroup, NumberField, NumberInput, Remark, Select, Toggle, Two } from "../fields/fields";
import { CHECKPOINT_TEXT, SAMPLING_TEXT } from "../shot/plan-words";

/** A share of white. */
const USUAL_NOISE = 0.01;
/** Ten minutes, for a start. */
const USUAL_LIMIT_SECONDS = 600;

/** Which of the limits decides depends on the frame; what ended each one is told with its attempt. */
export function QualityGroup() {
  const { plan, offer, change } = useShotWork().draft;
  const rule = plan.checkpoints;
  if (isExternal(plan))
    return (
      <Flex direction="column" gap="2.5">
        {offer.told.includes("samples") && <NumberField field="samples" label="Samples a pixel" />}
        {offer.told.some((setting) => setting === "noiseTarget" || setting === "timeLimit") && (
          <Two>
            {offer.told.includes("noiseTarget") && <NoiseField />}
            {offer.told.includes("timeLimit") && <LimitField />}
          </Two>
        )}
        {offer.keepsState && <SavingFields />}
        <Remark>
          A program of its own decides when a frame is done; here is what its declaration lets it be told.
          {offer.keepsState ? ` ${CHECKPOINT_TEXT[plan.checkpoints.kind]("what the program keeps")}` : ""}
        </Remark>
      </Flex>
    );
  return (
    <Flex direction="column" gap="2.5">
      <Two>
        <NumberField
          field="samples"
          label="Samples a pixel, at most"
          hint="half the grain costs 4 times the samples"
        />
        <NumberField field="minSamples" label="and at least" />
      </Two>
      <Two>
        <NoiseField />
        <LimitField />
      </Two>
      <Entry field="sampling" label="Way of sampling">
        <Select<Sampling>
          name="sampling"
          value={plan.sampling}
          options={[
            ["rounds", "the whole picture, in rounds"],
            ["tiles", "tile by tile"],
          ]}
          onChange={(sampling) =>
            // Samples of tiles cannot be kept for refining: a tile is done before the next begins.
            change(sampling === "tiles" ? { sampling, keepSamples: false } : { sampling })
          }
        />
      </Entry>
      <SavingFields />
      <Remark>
        {SAMPLING_TEXT[plan.sampling]} {CHECKPOINT_TEXT[rule.kind](size(planCheckpointBytes(plan)))}
        {plan.keepSamples ? ` Kept, that is ${size(planCheckpointBytes(plan))} beside every frame.` : ""}
      </Remark>
      <Remark>
        Whatever comes first ends a frame; its attempt says which, and the frame keeps the number of samples
        it reached. The time limit counts the render seconds of all attempts together.
      </Remark>
    </Flex>
  );
}

/** Share of white at which a frame is done before it has all its samples. */
function NoiseField() {
  const { plan, change } = useShotWork().draft;
  return (
    <EntryGroup field="noiseTarget" label="Ends early at a low noise">
      <Flex gap="3" align="center" w="full">
        <Toggle
          isOn={plan.noiseTarget !== null}
          onChange={(isOn) => change({ noiseTarget: isOn ? USUAL_NOISE : null })}
        >
          {plan.noiseTarget === null ? "no" : "percent of white"}
        </Toggle>
        {plan.noiseTarget !== null && (
          <NumberInput
            label="Noise, percent of white"
            value={Math.round(plan.noiseTarget * 1e6) / 1e4}
            onChange={(percent) => change({ noiseTarget: percent / 100 })}
          />
        )}
      </Flex>
    </EntryGroup>
  );
}

/** Seconds after which a frame is done. */
function LimitField() {
  const { plan, change } = useShotWork().draft;
  return (
    <EntryGroup field="timeLimit" label="Ends at a time limit">
      <Flex gap="3" align="center" w="full">
        <Toggle
          isOn={plan.timeLimit !== null}
          onChange={(isOn) => change({ timeLimit: isOn ? USUAL_LIMIT_SECONDS : null })}
        >
          {plan.timeLimit === null ? "no" : "seconds"}
        </Toggle>
        {plan.timeLimit !== null && (
          <NumberInput
            label="Render seconds a frame"
            value={plan.timeLimit}
            onChange={(timeLimit) => change({ timeLimit })}
          />
        )}
      </Flex>
    </EntryGroup>
  );
}

/** When what a frame has so far is saved, and whether it stays. */
function SavingFields() {
  const { plan, change } = useShotWork().draft;
  const rule = plan.checkpoints;
  return (
    <>
      <EntryGroup field="checkpoints" label="Save what a frame has so far">
        <Flex gap="3" align="center" w="full">
          <Select<CheckpointRule["kind"]>
            label="When it is saved"
            value={rule.kind}
            options={[
              ["every", "by the clock"],
              ["on-stop", "only when I stop it"],
              ["never", "never"],
            ]}
            onChange={(kind) => change({ checkpoints: kind === "every" ? USUAL_CHECKPOINTS : { kind } })}
          />
          {rule.kind === "every" && (
            <>
              <Text flexShrink={0}>every</Text>
              <NumberInput
                label="Minutes between"
                value={rule.minutes}
                onChange={(minutes) => change({ checkpoints: { kind: "every", minutes } })}
              />
              <Text flexShrink={0}>min</Text>
            </>
          )}
        </Flex>
      </EntryGroup>
      <EntryGroup field="keepSamples" label="When a frame is done">
        <Toggle
          isOn={plan.keepSamples}
          isDisabled={plan.sampling === "tiles"}
          onChange={(keepSamples) => change({ keepSamples })}
        >
          keep its samples, so that more can be added later
        </Toggle>
      </EntryGroup>
    </>
  );
}
