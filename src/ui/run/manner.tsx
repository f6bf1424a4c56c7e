"use client";
/** How a run goes: its order, what it goes before, when it begins and ends by itself. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { type Priority, PRIORITIES, type RunManner, USUAL_MANNER } from "@/contract/run-manner";
import { RUN_ORDERS, type RunOrder } from "@/core/run/run-order";
import { Select } from "../fields/fields";
import { ClockInput } from "../fields/clock-input";
import { nextTimeOf, timeOfDay } from "./time-of-day";
import { batchOptions, batchText, ORDER_TEXT, PRIORITY_TEXT } from "./words";

/** Who takes part is chosen beside the button, and not here. */
export type Manner = Omit<RunManner, "nodes">;

/** Each field says what it means now, so that the usual ones need not be understood to be left alone. */
export function MannerFields({
  value,
  onChange,
}: {
  readonly value: Manner;
  readonly onChange: (change: Partial<Manner>) => void;
}) {
  return (
    <Flex direction="column" gap="1.5" mb="2">
      <Flex gap="3" align="center">
        <Box flex="1.3">
          <Select<RunOrder>
            label="In which order"
            value={value.order}
            options={RUN_ORDERS.map((order) => [order, ORDER_TEXT[order]])}
            onChange={(order) => onChange({ order })}
          />
        </Box>
        <Box flex="1">
          <Select
            label="Before other runs or after them"
            value={String(value.priority)}
            options={[...PRIORITIES].reverse().map((p) => [String(p), PRIORITY_TEXT[p]])}
            onChange={(text) => onChange({ priority: Number(text) as Priority })}
          />
        </Box>
      </Flex>
      <Flex gap="2" align="center">
        <Box w="176px">
          <Select
            label="Frames a node takes at once"
            value={value.batch === null ? "" : String(value.batch)}
            options={batchOptions(value.batch)}
            onChange={(text) => onChange({ batch: text === "" ? null : Number(text) })}
          />
        </Box>
        <Text flexShrink={0}>Begins at</Text>
        <TimeInput label="Begins at" value={value.startAt} onChange={(startAt) => onChange({ startAt })} />
        <Text flexShrink={0}>stops at</Text>
        <TimeInput
          label="Stops by itself at"
          value={value.stopAt}
          onChange={(stopAt) => onChange({ stopAt })}
        />
      </Flex>
    </Flex>
  );
}

/** The same in one line, which opens to be changed: most runs go as usual, and what is usual is not said. */
export function MannerLine({
  value,
  onChange,
}: {
  readonly value: Manner;
  readonly onChange: (change: Partial<Manner>) => void;
}) {
  const [isOpen, setOpen] = useState(false);
  const begins = value.startAt === null ? "at once" : `from ${timeOfDay(value.startAt)}`;
  const ends = value.stopAt === null ? "until it is done" : `until ${timeOfDay(value.stopAt)}`;
  if (isOpen) return <MannerFields value={value} onChange={onChange} />;
  return (
    <Flex gap="3" mb="1.5" align="center">
      <Text color="softInk">Goes</Text>
      <Text>
        {[
          ORDER_TEXT[value.order],
          ...(value.priority === USUAL_MANNER.priority ? [] : [PRIORITY_TEXT[value.priority]]),
          ...(value.batch === USUAL_MANNER.batch ? [] : [batchText(value.batch)]),
          begins,
          ends,
        ].join(", ")}
      </Text>
      <Button size="xs" variant="plain" aria-label="Change how it goes" onClick={() => setOpen(true)}>
        Change
      </Button>
    </Flex>
  );
}

/** Blank is at once, or never. */
function TimeInput({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: number | null;
  readonly onChange: (value: number | null) => void;
}) {
  return (
    <ClockInput
      label={label}
      isOptional
      value={timeOfDay(value)}
      onChange={(text) => onChange(nextTimeOf(text, Date.now()))}
    />
  );
}
