"use client";
/** How pictures that are compared meet on the screen. */
import { Box, Button } from "@chakra-ui/react";
import { Select } from "../fields/fields";
import { Tip } from "../theme/tip";
import { BoundedNumber } from "./bounded-number";
import type { Viewing } from "./viewing";
import { ARRANGEMENT_TEXT } from "./words";

/** Degrees that the wipe turns by at a click. */
const TURN = 45;
const MOST_GAIN = 64;

/** @param others pictures beside the first; nothing is chosen while there is none */
export function ArrangementChoice({
  others,
  viewing,
  onViewing,
}: {
  readonly others: number;
  readonly viewing: Viewing;
  readonly onViewing: (change: Partial<Viewing>) => void;
}) {
  const { wipe, gain } = viewing;
  if (others === 0) return null;
  return (
    <>
      <Box w="auto">
        <Select
          label="How they are compared"
          value={viewing.arrangement}
          options={ARRANGEMENT_TEXT.filter(([one]) => others < 2 || one === "beside" || one === "blink")}
          onChange={(arrangement) => onViewing({ arrangement })}
        />
      </Box>
      {viewing.arrangement === "wipe" && (
        <Tip text="Turns the wipe's line; the line itself is dragged">
          <Button
            size="xs"
            variant="outline"
            onClick={() => onViewing({ wipe: { ...wipe, degrees: (wipe.degrees + TURN) % 360 } })}
          >
            Turn the line
          </Button>
        </Tip>
      )}
      {viewing.arrangement === "wipe" && (
        <BoundedNumber
          label="Degrees"
          value={wipe.degrees}
          step={5}
          bounds={{ least: 0, most: 359 }}
          onChange={(degrees) => onViewing({ wipe: { ...wipe, degrees } })}
        />
      )}
      {viewing.arrangement === "difference" && (
        <BoundedNumber
          label="Times"
          value={gain}
          step={1}
          bounds={{ least: 1, most: MOST_GAIN }}
          onChange={(next) => onViewing({ gain: next })}
        />
      )}
    </>
  );
}
