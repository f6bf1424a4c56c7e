"use client";
/** How far off is odd, in figures that can be changed: what is odd by them is there at once, as nothing is measured anew. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { OddView } from "@/contract/odd-view";
import { THRESHOLD_BOUNDS, type Thresholds } from "@/core/odd/odd";
import { NumberInput, Two } from "../fields/fields";
import { messageOf } from "../live/api";
import { Labelled } from "../page/field";
import { Refusal } from "../page/states";
import { useSequenceNow } from "../shot/shot-context";
import { useSetThresholds } from "./use-odd";

interface ThresholdWords {
  readonly label: string;
  readonly hint: string;
  /** The figure that is typed is so many times the one that is kept: shares are typed in percent. */
  readonly times: number;
}
const WORDS: Readonly<Record<keyof Thresholds, ThresholdWords>> = {
  change: { label: "Pop, flicker", hint: "times the usual change", times: 1 },
  leastChange: { label: "and at least", hint: "% of white", times: 100 },
  frozen: { label: "Frozen below", hint: "of the usual change", times: 1 },
  deviations: { label: "Other measures", hint: "deviations from the median", times: 1 },
  hot: { label: "Hot pixels", hint: "more than around it", times: 1 },
  seconds: { label: "Seconds", hint: "times those around it", times: 1 },
};
const PAIRS = [
  ["change", "leastChange"],
  ["frozen", "deviations"],
  ["hot", "seconds"],
] as const;

function faultOf(key: keyof Thresholds, value: number): string | undefined {
  const [least, most] = THRESHOLD_BOUNDS[key];
  const { times } = WORDS[key];
  if (Number.isNaN(value) || value < least || value > most) return `from ${least * times} to ${most * times}`;
  return key === "hot" && !Number.isInteger(value) ? "a whole number" : undefined;
}

export function ThresholdsForm({ odd }: { readonly odd: OddView }) {
  const { view } = useSequenceNow();
  const set = useSetThresholds(view.id);
  /** What is typed; null: as the server has them. */
  const [typed, setTyped] = useState<Thresholds | null>(null);
  const shown = typed ?? odd.thresholds;
  const change = (key: keyof Thresholds, value: number): void => {
    const next = { ...shown, [key]: value };
    setTyped(next);
    if ((Object.keys(next) as (keyof Thresholds)[]).every((one) => faultOf(one, next[one]) === undefined))
      set.mutate(next, { onSuccess: () => setTyped((now) => (now === next ? null : now)) });
  };
  return (
    <Flex direction="column" gap="2" mt="1.5" data-testid="thresholds">
      {PAIRS.map((pair) => (
        <Two key={pair[0]}>
          {pair.map((key) => {
            const { label, hint, times } = WORDS[key];
            return (
              <Labelled key={key} label={`${label}, ${hint}`} fault={faultOf(key, shown[key])}>
                <NumberInput
                  name={key}
                  // As it was typed: 1.2 and not 1.2000000000000002.
                  value={Number((shown[key] * times).toPrecision(12))}
                  onChange={(value) => change(key, value / times)}
                />
              </Labelled>
            );
          })}
        </Two>
      ))}
      <Flex gap="3" align="baseline" mt="1">
        <Text fontSize="xs" color="softInk">
          {odd.areUsual ? "As they are usual." : "Set for this shot."} A marker whose name begins with flash,
          cut or hold says that it is meant.
        </Text>
        {!odd.areUsual && (
          <Button
            size="xs"
            variant="plain"
            flexShrink={0}
            onClick={() => {
              setTyped(null);
              set.mutate(null);
            }}
          >
            As usual
          </Button>
        )}
      </Flex>
      {set.error !== null && <Refusal>{messageOf(set.error)}</Refusal>}
    </Flex>
  );
}
