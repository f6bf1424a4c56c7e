"use client";
/** Under a field for frames: what its text may have been meant to be, to be taken with a click. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { meantFrames, type MeantPhrase } from "@/core/frames/meant-frames";
import { timeLineNumbers } from "@/core/plan/scene-time";
import { markerSets, stretchNames } from "@/core/tally/names";
import { useShotWork } from "../shot/shot-context";

/** Nothing where the text says plainly what it means. */
export function Meant({
  text,
  isNumbersOnly = false,
  onTake,
}: {
  readonly text: string;
  /** The field keeps no names: what a stretch means is offered in numbers. */
  readonly isNumbersOnly?: boolean;
  readonly onTake: (phrase: string) => void;
}) {
  const { shot, draft } = useShotWork();
  const { plan } = draft;
  const line = timeLineNumbers(plan);
  const found = meantFrames(
    text,
    line,
    plan.rate,
    isNumbersOnly ? stretchNames(markerSets(shot.markers, plan)) : null,
  );
  if (found === null) return null;
  const offers: readonly MeantPhrase[] = found.kind === "two-readings" ? found.readings : [found.meant];
  return (
    <Flex gap="2" rowGap="0" align="center" flexWrap="wrap" color="ochre" fontSize="xs" data-testid="meant">
      <Text>
        {found.kind === "shifted"
          ? `Nothing is there: this shot begins at ${line.first}. Did you mean`
          : found.kind === "stretch"
            ? "A plan keeps numbers. These are:"
            : found.kind === "length"
              ? "This is a length. As frames:"
              : `"${text.trim()}" can be read two ways:`}
      </Text>
      {offers.map(({ words, phrase }) => (
        <Button key={phrase} size="xs" variant="plain" onClick={() => onTake(phrase)}>
          {words === phrase ? phrase : `${words}: ${phrase}`}
        </Button>
      ))}
    </Flex>
  );
}
