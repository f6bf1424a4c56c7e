"use client";
/** Choices in words: one of several, and which nodes. */
import { Box, Checkbox, Flex, Grid, RadioGroup, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { groupMark, groupOfMark, groupsOfNodes, mayTake } from "@/core/run/who-takes";
import { useLive } from "../live/live-store";

export interface Option<K extends string> {
  /** What the choice is called in data. */
  readonly key: K;
  /** Whole words: it is read beside the others. */
  readonly text: ReactNode;
  /** At the end of the line, such as a count. */
  readonly figure?: ReactNode;
  readonly disabled?: boolean;
}

/** Radio buttons in words, all in sight: what was not chosen is part of the decision. */
export function OneOf<K extends string>({
  label,
  value,
  options,
  onChange,
  columns = 1,
}: {
  readonly label: string;
  /** Side by side, where they are short and many. */
  readonly columns?: 1 | 2;
  readonly value: K;
  readonly options: readonly Option<K>[];
  readonly onChange: (value: K) => void;
}) {
  return (
    <RadioGroup.Root
      size="sm"
      value={value}
      onValueChange={(details) => onChange(details.value as K)}
      aria-label={label}
      mb="2.5"
    >
      <Grid templateColumns={`repeat(${columns}, minmax(0, 1fr))`} columnGap="4" rowGap="1">
        {options.map((option) => (
          <Flex key={option.key} justify="space-between" gap="4">
            <RadioGroup.Item value={option.key} disabled={option.disabled}>
              <RadioGroup.ItemHiddenInput />
              <RadioGroup.ItemIndicator borderColor="ink" />
              <RadioGroup.ItemText fontWeight="400">{option.text}</RadioGroup.ItemText>
            </RadioGroup.Item>
            {option.figure !== undefined && <Box className="figures">{option.figure}</Box>}
          </Flex>
        ))}
      </Grid>
    </RadioGroup.Root>
  );
}

/** Short, since the names stand in one line. */
const STATE_WORD = {
  "at-work": "at work",
  idle: "free",
  paused: "paused",
  "off-hours": "outside its hours",
  "set-aside": "set aside",
  away: "not heard of",
  stopped: "stopped",
  "on-call": "when called",
} as const;

/** Which nodes may take part; null is every one, also those that come later. */
export function NodeChoice({
  value,
  onChange,
}: {
  /** Names; null is every node, also one that comes later. */
  readonly value: readonly string[] | null;
  readonly onChange: (nodes: readonly string[] | null) => void;
}) {
  const { nodes, at } = useLive();
  if (at === 0) return <Text color="softInk">Looking for nodes.</Text>;
  if (nodes.length === 0)
    return (
      <Text color="softInk">
        No node has ever worked here. Start one: <code>npx plain-tally node --name NAME</code>. Frames wait
        for it.
      </Text>
    );
  const groups = groupsOfNodes(nodes);
  const marks = (value ?? []).filter((one) => groupOfMark(one) !== null);
  // All of them is not a list of names: a node that comes tomorrow belongs to it.
  const toggle = (name: string, isOn: boolean): void => {
    const next = nodes.map((n) => n.name).filter((n) => (n === name ? isOn : (value ?? [n]).includes(n)));
    onChange(next.length === nodes.length && marks.length === 0 ? null : [...marks, ...next]);
  };
  // Neither is a group: its nodes are those that are in it when a frame is to be taken.
  const toggleGroup = (group: string, isOn: boolean): void => {
    const kept = (value ?? []).filter((one) => one !== groupMark(group));
    onChange(
      isOn
        ? [
            groupMark(group),
            ...kept.filter((one) => !nodes.some((n) => n.name === one && n.groups.includes(group))),
          ]
        : kept.length === 0
          ? null
          : kept,
    );
  };
  return (
    <Flex gap="5" rowGap="1" flexWrap="wrap" role="group" aria-label="Nodes">
      {groups.map((group) => (
        <Checkbox.Root
          key={groupMark(group)}
          size="sm"
          checked={marks.includes(groupMark(group))}
          onCheckedChange={(details) => toggleGroup(group, details.checked === true)}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control borderColor="ink" />
          <Checkbox.Label fontWeight="400">
            all of{" "}
            <Box as="span" fontFamily="mono">
              {group}
            </Box>
          </Checkbox.Label>
        </Checkbox.Root>
      ))}
      {nodes.map((node) => (
        <Checkbox.Root
          key={node.name}
          size="sm"
          checked={mayTake(value, node)}
          disabled={mayTake(marks, node)}
          onCheckedChange={(details) => toggle(node.name, details.checked === true)}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control borderColor="ink" />
          <Checkbox.Label fontWeight="400">
            <Box as="span" fontFamily="mono">
              {node.name}
            </Box>{" "}
            <Box as="span" color="softInk">
              {STATE_WORD[node.state]}
            </Box>
          </Checkbox.Label>
        </Checkbox.Root>
      ))}
    </Flex>
  );
}
