"use client";
/** A rate of the trade, or another one that is typed; what is no rate is told where it is typed. */
import { Box, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";
import { isSameRate, parseRate, type Rate, rateText, TRADE_RATES } from "@/core/timing/rate";
import { Select } from "./fields";

export function RateSelect({
  rate,
  onRate,
}: {
  readonly rate: Rate;
  /** Hears rates alone. */
  readonly onRate: (rate: Rate) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const known = TRADE_RATES.find((each) => isSameRate(each, rate));
  const isWrong = typed !== null && parseRate(typed) === null;
  return (
    <>
      <Flex gap="2" w="full">
        <Select
          label="Frames a second"
          value={known === undefined || typed !== null ? "free" : rateText(known)}
          options={[
            ...TRADE_RATES.map((each) => [rateText(each), rateText(each)] as const),
            ["free", "another"],
          ]}
          onChange={(next) => {
            const chosen = parseRate(next);
            if (chosen === null) return setTyped(rateText(rate));
            setTyped(null);
            onRate(chosen);
          }}
        />
        {(typed !== null || known === undefined) && (
          <Input
            size="xs"
            fontSize="sm"
            fontFamily="mono"
            bg="paper"
            aria-label="Another rate"
            value={typed ?? rateText(rate)}
            onChange={(event) => {
              setTyped(event.target.value);
              const chosen = parseRate(event.target.value);
              if (chosen !== null) onRate(chosen);
            }}
          />
        )}
      </Flex>
      {isWrong && (
        <Box
          as="span"
          color="brick"
          role="alert"
          fontSize="xs"
        >{`"${typed}" is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`}</Box>
      )}
    </>
  );
}
