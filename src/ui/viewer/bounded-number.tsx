"use client";
import { Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

/**
 * A number that is only taken when it is one inside its bounds. What was typed stays in sight until the field is left: a
 * minus alone is the beginning of a number.
 */
export function BoundedNumber({
  label,
  value,
  step,
  bounds: { least, most },
  onChange,
}: {
  readonly label: string;
  readonly value: number;
  readonly step: number;
  readonly bounds: { readonly least: number; readonly most: number };
  readonly onChange: (value: number) => void;
}) {
  /** Null: nothing is being typed. */
  const [typed, setTyped] = useState<string | null>(null);
  const isIn = (number: number): boolean => number >= least && number <= most;
  const isTaken = typed === null || (typed.trim() !== "" && isIn(Number(typed)));
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
        aria-invalid={!isTaken}
        step={step}
        min={least}
        max={most}
        value={typed ?? value}
        onChange={(event) => {
          const next = event.target.valueAsNumber;
          // The browser keeps what is no number yet to itself: to be left alone.
          setTyped(Number.isNaN(next) ? "" : event.target.value);
          if (isIn(next)) onChange(next);
        }}
        onBlur={() => setTyped(null)}
      />
      {!isTaken && (
        <Text fontSize="xs" color="brick" role="alert">
          {least} to {most}
        </Text>
      )}
    </Flex>
  );
}
