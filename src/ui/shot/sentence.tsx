"use client";
/** The tally as a sentence; with `onPick` each clause selects its frames on the band. */
import { Box, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import { type SentencePart, tallySentence } from "@/core/tally/sentence";
import type { TallyCounts } from "@/core/tally/tally";

/** What wants work is coloured by what it is; what is good, extra or not yet there is plain. */
const INK: Partial<Record<SentencePart["name"], string>> = {
  flagged: "brick",
  failed: "brick",
  partial: "ochre",
  stale: "plum",
  rendering: "petrol",
  waiting: "softInk",
  checking: "petrol",
};

/** A clause is a phrase of the language, so that what it selects can be read and typed. */
export function SentenceText({
  counts,
  onPick,
}: {
  readonly counts: TallyCounts;
  /** Hears the phrase of the clause; without it the sentence is text. */
  readonly onPick?: (phrase: string) => void;
}) {
  const { opening, results, activities } = tallySentence(counts);
  const clause = (part: SentencePart) =>
    onPick === undefined ? (
      part.text
    ) : (
      <Box
        asChild
        cursor="pointer"
        borderBottomWidth="2px"
        borderColor={INK[part.name] ?? "ink"}
        _hover={{ color: "petrol" }}
      >
        <button type="button" title={`Select the ${part.name} frames`} onClick={() => onPick(part.name)}>
          {part.text}
        </button>
      </Box>
    );
  const list = (parts: readonly SentencePart[], before: string) =>
    parts.map((part, i) => (
      <Fragment key={part.name}>
        {i === 0 ? before : ", "}
        {clause(part)}
      </Fragment>
    ));
  return (
    <Text as="span" data-testid="sentence">
      <Box as="span" fontWeight="700">
        {onPick === undefined ? (
          opening
        ) : (
          <Box asChild cursor="pointer" _hover={{ color: "petrol" }}>
            <button type="button" title="Select the good frames" onClick={() => onPick("good")}>
              {opening}
            </button>
          </Box>
        )}
      </Box>
      {list(results, ", ")}.{activities.length > 0 && <>{list(activities, " ")}.</>}
    </Text>
  );
}
