"use client";
/** Frames a second, and how files are numbered against the scene. */
import { Box, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";
import { isSameRate, parseRate, type Rate, rateText, TRADE_RATES } from "@/core/timing/rate";
import { retimePhrase } from "@/core/plan/scene-time";
import { useShotWork } from "../shot/shot-context";
import { Entry, EntryGroup, NumberInput, Select, Two } from "../fields/fields";

/**
 * The rate keeps the duration: the frames are counted anew. The offset keeps the scene frames: the files are
 * numbered anew.
 */
export function RateField() {
  const {
    draft: { plan, change },
  } = useShotWork();
  const [typed, setTyped] = useState<string | null>(null);
  const retime = (rate: Rate): void =>
    change({
      rate,
      frames: retimePhrase(plan.frames, plan, { ...plan, rate }),
    });
  const known = TRADE_RATES.find((rate) => isSameRate(rate, plan.rate));
  const isWrong = typed !== null && parseRate(typed) === null;
  return (
    <Two>
      <EntryGroup
        field="rate"
        label="Frames a second"
        hint={
          isWrong ? (
            <Box
              as="span"
              color="brick"
              role="alert"
            >{`"${typed}" is no frame rate; write 24, 23.976 or a fraction such as 24000/1001.`}</Box>
          ) : isSameRate(plan.rate, plan.timeLine.rate) ? (
            "the scene's own rate"
          ) : (
            `the scene has ${rateText(plan.timeLine.rate)}: the duration stays, times between frames are rendered`
          )
        }
      >
        <Flex gap="2" w="full">
          <Select
            label="Frames a second"
            value={known === undefined || typed !== null ? "free" : rateText(known)}
            options={[
              ...TRADE_RATES.map((rate) => [rateText(rate), rateText(rate)] as const),
              ["free", "another"],
            ]}
            onChange={(next) => {
              const rate = parseRate(next);
              if (rate === null) setTyped(rateText(plan.rate));
              else {
                setTyped(null);
                retime(rate);
              }
            }}
          />
          {(typed !== null || known === undefined) && (
            <Input
              size="xs"
              fontSize="sm"
              fontFamily="mono"
              bg="paper"
              aria-label="Another rate"
              value={typed ?? rateText(plan.rate)}
              onChange={(event) => {
                setTyped(event.target.value);
                const rate = parseRate(event.target.value);
                if (rate !== null) retime(rate);
              }}
            />
          )}
        </Flex>
      </EntryGroup>
      <Entry
        field="offset"
        label="Offset: file number less scene frame"
        hint={
          plan.offset === 0
            ? undefined
            : `scene ${plan.timeLine.first} is file ${plan.timeLine.first + plan.offset}`
        }
      >
        <NumberInput
          step={1}
          value={plan.offset}
          onChange={(offset) =>
            change({
              offset,
              ...(Number.isInteger(offset) && Number.isInteger(plan.offset)
                ? { frames: retimePhrase(plan.frames, plan, { ...plan, offset }) }
                : {}),
            })
          }
        />
      </Entry>
    </Two>
  );
}
