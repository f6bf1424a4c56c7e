"use client";
/** How frames of another program come in: what is claimed since when, how fast, and when the last may be there. */
import { Text } from "@chakra-ui/react";
import type { ElsewhereView } from "@/contract/sequence-view";
import { formatPhrase, shorten } from "@/core/frames/phrase";
import { setOf } from "@/core/frames/frame-set";
import { unpackSet } from "@/core/tally/packed";
import { useNow } from "../page/header";
import { useSequenceNow } from "../shot/shot-context";
import { clock, count, duration, frames } from "../words";

/** A frame every 48 s; 3 gaps behind the front (frame 88): 41, 42, 57; 12 to come, likely until 04:10. */
function paceText(
  { everySeconds, front, behind, left, finishMs }: NonNullable<ElsewhereView["pace"]>,
  now: number,
): string {
  const gaps = unpackSet(behind);
  return [
    `A frame every ${duration(everySeconds)}`,
    gaps.count === 0
      ? `none behind the front (frame ${front})`
      : `${count(gaps.count)} gap${gaps.count === 1 ? "" : "s"} behind the front (frame ${front}): ${shorten(formatPhrase(gaps))}`,
    ...(left === 0 || finishMs === null
      ? []
      : [`${frames(left)} to come, likely until ${clock(finishMs, now)}`]),
  ].join("; ");
}

/** Claims that hold, and those that nobody seems to be at any more. */
function claimTexts(claims: ElsewhereView["claims"], now: number): string[] {
  return [false, true].flatMap((isOver) => {
    const some = claims.filter((c) => c.isOver === isOver);
    if (some.length === 0) return [];
    const which = shorten(formatPhrase(setOf(some.map((c) => c.frame))));
    const since = clock(some[0]!.sinceMs, now);
    return [
      isOver
        ? `${which} claimed elsewhere since ${since} and never made: longer than a few frames take, so ${some.length === 1 ? "it counts" : "they count"} as missing`
        : `${which} claimed elsewhere since ${since}`,
    ];
  });
}

/** Nothing while nothing comes. */
export function ArrivalsLine() {
  const { elsewhere } = useSequenceNow().view;
  const now = useNow();
  if (elsewhere === null || now === null) return null;
  const texts = [
    ...(elsewhere.pace === null ? [] : [paceText(elsewhere.pace, now)]),
    ...claimTexts(elsewhere.claims, now),
  ];
  if (texts.length === 0) return null;
  return (
    <Text fontSize="sm" color="softInk" className="figures" data-testid="arrivals">
      {texts.join(". ")}.
    </Text>
  );
}
