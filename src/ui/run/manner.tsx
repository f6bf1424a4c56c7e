"use client";
/** How a run goes: its order, what it goes before, when it begins and ends by itself. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { type Priority, PRIORITIES, type RunManner, USUAL_MANNER } from "@/contract/run-manner";
import { RUN_ORDERS, type RunOrder } from "@/core/run/run-order";
import { Select } from "../fields/fields";
import { useHouseRuns } from "../live/queries";
import { ClockInput } from "../fields/clock-input";
import { nextTimeOf, timeOfDay } from "./time-of-day";
import { batchOptions, batchText, ORDER_TEXT, PRIORITY_TEXT } from "./words";

/** Who takes part is chosen beside the button, and not here. */
export type Manner = Omit<RunManner, "nodes">;

/** Each field says what it means now, so that the usual ones need not be understood to be left alone. */
export function MannerFields({
  value,
  own = null,
  onChange,
}: {
  readonly value: Manner;
  /** Number of the run whose manner it is; null before it begins. */
  readonly own?: number | null;
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
      <AfterField value={value.after} own={own} onChange={(after) => onChange({ after })} />
    </Flex>
  );
}

/** Another run that is to be good before this one begins: what it makes may be what this one uses. */
function AfterField({
  value,
  own,
  onChange,
}: {
  readonly value: number | null;
  readonly own: number | null;
  readonly onChange: (after: number | null) => void;
}) {
  const { data } = useHouseRuns();
  const others = [...(data?.open ?? []), ...(data?.ended ?? []).filter(({ run }) => run.state === "stopped")];
  const options = others
    .filter(({ run }) => run.id !== own)
    .map(({ shot, run }) => [String(run.id), `once run ${run.id} (${shot}) is good`] as const);
  const isListed = value === null || options.some(([id]) => id === String(value));
  if (options.length === 0 && value === null) return null;
  return (
    <Box w="300px">
      <Select
        label="After another run"
        value={value === null ? "" : String(value)}
        options={[
          ["", "waits for no other run"],
          ...(isListed ? [] : [[String(value), `once run ${value} is good`] as const]),
          ...options,
        ]}
        onChange={(text) => onChange(text === "" ? null : Number(text))}
      />
    </Box>
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
          ...(value.after === null ? [] : [`once run ${value.after} is good`]),
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
