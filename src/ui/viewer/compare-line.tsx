"use client";
/** What the sequence is compared with: other versions and passes of the shot, or the files that were replaced. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { ShotView } from "@/contract/shot-view";
import { versionName } from "@/core/plan/plan";
import { Select } from "../fields/fields";
import { Tip } from "../theme/tip";
import { MOST_LAYERS } from "./arrangement";
import { BoundedNumber } from "./bounded-number";
import { leaveChoice } from "./leave-choice";
import { type Compared, comparedKey } from "./use-layers";
import type { Viewing } from "./viewing";
import { ARRANGEMENT_TEXT, type Options } from "./words";

/** Degrees that the wipe turns by at a click. */
const TURN = 45;
const MOST_GAIN = 64;

/**
 * Everything of the shot that can stand beside the sequence on the page; passes of the same version first.
 * @param hasBefore files of the sequence were replaced, and are kept
 */
export function comparable(shot: ShotView, hasBefore: boolean): readonly (readonly [Compared, string])[] {
  const own = versionName(shot.sequence);
  const others = shot.choices
    .filter(({ id }) => id !== shot.sequence.id)
    .map((choice): readonly [Compared, string] => {
      const version = versionName(choice);
      const { camera, pass } = choice;
      const cameraText = camera === shot.sequence.camera ? "" : `, ${camera} camera`;
      return [
        { kind: "sequence", version, camera, pass },
        version === own ? `${pass}${cameraText}` : `${version}, ${pass}${cameraText}`,
      ];
    });
  const isOwn = ([compared]: readonly [Compared, string]): boolean =>
    compared.kind === "sequence" && compared.version === own;
  return [
    ...(hasBefore ? [[{ kind: "before" }, "the files from before"] as const] : []),
    ...others.filter(isOwn),
    ...others.filter((other) => !isOwn(other)),
  ];
}

const NOTHING = "";

export function CompareLine({
  choices,
  compared,
  onCompared,
  viewing,
  onViewing,
}: {
  /** With the text of each. */
  readonly choices: readonly (readonly [Compared, string])[];
  readonly compared: readonly Compared[];
  readonly onCompared: (compared: readonly Compared[]) => void;
  readonly viewing: Viewing;
  readonly onViewing: (change: Partial<Viewing>) => void;
}) {
  const options: Options<string> = choices.map(([one, text]) => [comparedKey(one), text]);
  const set = (at: number, key: string): void => {
    const chosen = choices.find(([one]) => comparedKey(one) === key)?.[0];
    const next = chosen === undefined ? compared.filter((_, i) => i !== at) : [...compared];
    if (chosen !== undefined) next[at] = chosen;
    onCompared(next);
    // Two meet in one place, more stand side by side.
    if (next.length > 1 && viewing.arrangement !== "blink") onViewing({ arrangement: "beside" });
  };
  const choose = (at: number, label: string) => (
    <Box key={at} w="auto">
      <Select
        label={label}
        value={compared[at] === undefined ? NOTHING : comparedKey(compared[at])}
        options={[[NOTHING, at === 0 ? "nothing" : "no more"], ...options]}
        onChange={(key) => set(at, key)}
      />
    </Box>
  );
  const { wipe, gain } = viewing;
  return (
    <Flex
      gap="2"
      rowGap="1"
      align="center"
      flexWrap="wrap"
      role="group"
      aria-label="What is compared"
      onChange={leaveChoice}
    >
      <Text fontSize="xs" color="softInk">
        Compared with
      </Text>
      {choose(0, "Compared with")}
      {Array.from({ length: MOST_LAYERS - 2 }, (_, i) => i + 1).map((at) =>
        compared.length >= at ? choose(at, `Compared with, ${at + 1}`) : null,
      )}
      {compared.length > 0 && (
        <Box w="auto">
          <Select
            label="How they are compared"
            value={viewing.arrangement}
            options={ARRANGEMENT_TEXT.filter(
              ([one]) => compared.length < 2 || one === "beside" || one === "blink",
            )}
            onChange={(arrangement) => onViewing({ arrangement })}
          />
        </Box>
      )}
      {compared.length > 0 && viewing.arrangement === "wipe" && (
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
      {compared.length > 0 && viewing.arrangement === "wipe" && (
        <BoundedNumber
          label="Degrees"
          value={wipe.degrees}
          step={5}
          bounds={{ least: 0, most: 359 }}
          onChange={(degrees) => onViewing({ wipe: { ...wipe, degrees } })}
        />
      )}
      {compared.length > 0 && viewing.arrangement === "difference" && (
        <BoundedNumber
          label="Times"
          value={gain}
          step={1}
          bounds={{ least: 1, most: MOST_GAIN }}
          onChange={(next) => onViewing({ gain: next })}
        />
      )}
    </Flex>
  );
}
