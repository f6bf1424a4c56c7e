"use client";
import { Flex, Input, Text } from "@chakra-ui/react";

/** A number that is only taken when it is one inside its bounds; what was typed stays in sight. */
export function BoundedNumber({
  label,
  value,
  step,
  bounds,
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly step: number;
  readonly bounds: { readonly least: number; readonly most: number };
  readonly onChange: (value: number) => void;
}) {
  return (
    <Flex align="center" gap="1">
      <Text as="label" fontSize="xs" color="softInk">
        {label}
      </Text>
      <Input
        size="xs"
        w="66px"
        px="2"
        fontSize="sm"
        fontFamily="mono"
        bg="paper"
        type="number"
        aria-label={label}
        step={step}
        min={bounds.least}
        max={bounds.most}
        value={value}
        onChange={(event) => {
          const next = event.target.valueAsNumber;
          if (next >= bounds.least && next <= bounds.most) onChange(next);
        }}
      />
    </Flex>
  );
}
