"use client";
/** How samples become pixels: shading, filter, shutter, lens, dither, grain. */
import { Flex, Input } from "@chakra-ui/react";
import { useState } from "react";
import { FILTERS, type FilterKind, SHADINGS, USUAL_RADIUS } from "@/core/plan/picture";
import { type Animated, animatedText, type Lens, readAnimated } from "@/core/plan/lens";
import type { Plan } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import { useShotWork } from "../shot/shot-context";
import { Entry, EntryGroup, NumberField, NumberInput, Select, Toggle, Two } from "../fields/fields";
import { FILTER_TEXT, SHADING_TEXT } from "../shot/plan-words";

/** What "a lens of the plan" begins with: f-number, and metres to what is sharp. */
const USUAL_LENS: Lens = { fNumber: 2.8, focusDistance: 5 };
/** Half of the frame, 180 degrees. */
const USUAL_SHUTTER = 0.5;

/** Everything here decides the picture: a change makes frames stale that were made before. */
export function PictureGroup() {
  const { plan, offer, change } = useShotWork().draft;
  if (offer.name !== STAND_IN)
    return (
      <Flex direction="column" gap="2.5">
        <NumberField field="seed" label="Seed of the grain" />
      </Flex>
    );
  return (
    <Flex direction="column" gap="2.5">
      <EntryGroup field="filter" label="Pixel filter and radius">
        <Flex gap="2" w="full">
          <Select<FilterKind>
            label="Pixel filter"
            value={plan.filter.kind}
            options={FILTERS.map((kind) => [kind, FILTER_TEXT[kind]] as const)}
            onChange={(kind) => change({ filter: { kind, radius: USUAL_RADIUS[kind] } })}
          />
          <NumberInput
            label="Filter radius, pixels"
            value={plan.filter.radius}
            onChange={(radius) => change({ filter: { ...plan.filter, radius } })}
          />
        </Flex>
      </EntryGroup>
      <LensField plan={plan} change={change} />
      <Two>
        <Entry field="shading" label="Shading">
          <Select
            value={plan.shading}
            options={SHADINGS.map((shading) => [shading, SHADING_TEXT[shading]] as const)}
            onChange={(shading) => change({ shading })}
          />
        </Entry>
        <EntryGroup
          field="shutter"
          label="Shutter"
          hint={
            typeof plan.shutter === "number" && plan.shutter > 0
              ? `open for ${Math.round(plan.shutter * 360)}°`
              : undefined
          }
        >
          <Flex gap="2" w="full">
            <Select
              label="Shutter"
              value={plan.shutter === "scene" ? "scene" : plan.shutter === 0 ? "off" : "own"}
              options={[
                ["scene", "as the scene says"],
                ["off", "off: no motion blur"],
                ["own", "open for a share"],
              ]}
              onChange={(kind) =>
                change({ shutter: kind === "scene" ? "scene" : kind === "off" ? 0 : USUAL_SHUTTER })
              }
            />
            {typeof plan.shutter === "number" && plan.shutter !== 0 && (
              <NumberInput
                label="Share of the frame, 0 to 1"
                value={plan.shutter}
                onChange={(shutter) => change({ shutter })}
              />
            )}
          </Flex>
        </EntryGroup>
      </Two>
      <Two>
        <NumberField field="seed" label="Seed of the grain" />
        <Entry field="grain" label="Grain">
          <Select
            value={plan.grain}
            options={[
              ["by-frame", "new on every frame"],
              ["same", "the same on every frame"],
            ]}
            onChange={(grain) => change({ grain })}
          />
        </Entry>
      </Two>
      <Toggle isOn={plan.dither} onChange={(dither) => change({ dither })}>
        Dither when writing 8 bits, so that slopes do not band
      </Toggle>
    </Flex>
  );
}

/** Depth of field; each value constant, or keyed as frames with values. */
function LensField({
  plan,
  change,
}: {
  /** As it stands, saved or not. */
  readonly plan: Plan;
  readonly change: (edits: Partial<Plan>) => void;
}) {
  const lens = typeof plan.lens === "object" ? plan.lens : null;
  return (
    <EntryGroup
      field="lens"
      label="Depth of field"
      hint={lens === null ? undefined : "f-number and metres to what is sharp; over time as 1001:2, 1050:6"}
    >
      <Flex gap="2" w="full">
        <Select
          label="Depth of field"
          value={lens === null ? (plan.lens as "scene" | "off") : "own"}
          options={[
            ["scene", "as the scene says"],
            ["off", "off: all is sharp"],
            ["own", "a lens of the plan"],
          ]}
          onChange={(kind) => change({ lens: kind === "own" ? USUAL_LENS : kind })}
        />
        {lens !== null && (
          <AnimatedInput
            label="f-number"
            value={lens.fNumber}
            onChange={(fNumber) => change({ lens: { ...lens, fNumber } })}
          />
        )}
        {lens !== null && (
          <AnimatedInput
            label="Focus distance, metres"
            value={lens.focusDistance}
            onChange={(focusDistance) => change({ lens: { ...lens, focusDistance } })}
          />
        )}
      </Flex>
    </EntryGroup>
  );
}

/**
 * What cannot be read becomes no number, so that the fault of the lens says so and the text stays as it was
 * typed.
 */
function AnimatedInput({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  /** NaN where what was typed cannot be read. */
  readonly value: Animated<number>;
  readonly onChange: (value: Animated<number>) => void;
}) {
  const [typed, setTyped] = useState(() => animatedText(value));
  const isTyped =
    Object.is(readAnimated(typed) ?? NaN, value) ||
    JSON.stringify(readAnimated(typed)) === JSON.stringify(value);
  return (
    <Input
      size="xs"
      fontSize="sm"
      px="2"
      fontFamily="mono"
      bg="paper"
      aria-label={label}
      value={isTyped ? typed : animatedText(value)}
      onChange={(event) => {
        setTyped(event.target.value);
        onChange(readAnimated(event.target.value) ?? NaN);
      }}
    />
  );
}
