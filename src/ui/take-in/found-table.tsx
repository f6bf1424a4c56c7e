"use client";
/** The sequences of a folder, a one-line band each, with what is odd before one is chosen, and what it is taken in as. */
import { Box, Checkbox, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import type { FoundSequenceView } from "@/contract/take-in";
import { type FrameSet, rangeSet } from "@/core/frames/frame-set";
import { PASSES } from "@/core/plan/passes";
import { unpackSet } from "@/core/tally/packed";
import { deriveTally, NO_FACTS } from "@/core/tally/tally";
import { BandLine } from "../band/band-line";
import { Select } from "../fields/fields";
import { useNow } from "../page/header";
import { clock, frames, size } from "../words";
import { oddText } from "./words";

/** A line of the table, as somebody has it now. */
export interface FoundDraft {
  readonly sequence: FoundSequenceView;
  readonly isChosen: boolean;
  readonly camera: string;
  readonly pass: FoundSequenceView["pass"];
  /** What is wrong with what it is taken in as; null where nothing is. */
  readonly fault: string | null;
}

const BAND_HEIGHT = 22;
/** Longer gaps than this are not drawn frame by frame. */
const MOST_DRAWN = 1_000_000;

function useTally(frameSet: FrameSet) {
  return useMemo(() => {
    const [first, last] = [frameSet.runs[0]?.first ?? 1, frameSet.runs.at(-1)?.last ?? 0];
    const asked = last - first < MOST_DRAWN ? rangeSet(first, last) : frameSet;
    // Nothing has looked at them yet: whole or not is told once they are taken in.
    return deriveTally({ ...NO_FACTS, asked, files: frameSet, unlooked: frameSet });
  }, [frameSet]);
}

function FoundRow({
  draft: { sequence: s, isChosen, camera, pass, fault },
  onChange,
}: {
  readonly draft: FoundDraft;
  readonly onChange: (change: Partial<FoundDraft>) => void;
}) {
  const set = useMemo(() => unpackSet(s.frames), [s.frames]);
  const tally = useTally(set);
  const now = useNow();
  const odd = oddText(s);
  const path = s.folder === "" ? s.name : `${s.folder}/${s.name}`;
  return (
    <Grid
      as="li"
      data-testid="found-sequence"
      templateColumns="20px minmax(0, 1fr) 130px 130px"
      columnGap="3"
      alignItems="start"
      borderTopWidth="1px"
      borderColor="rule"
      py="1.5"
    >
      <Checkbox.Root
        size="sm"
        mt="0.5"
        checked={isChosen}
        disabled={s.known !== null}
        onCheckedChange={({ checked }) => onChange({ isChosen: checked === true })}
        aria-label={`Take in ${path}`}
      >
        <Checkbox.HiddenInput />
        <Checkbox.Control />
      </Checkbox.Root>
      <Box minW="0">
        <Flex gap="3" align="baseline" justify="space-between">
          <Text fontFamily="mono" fontSize="sm" fontWeight="700" truncate title={path}>
            {path}
          </Text>
          <Text fontSize="xs" color="softInk" className="figures" whiteSpace="nowrap">
            {s.first}-{s.last} · {frames(s.count)} · {size(s.bytes)}
            {s.size === null ? "" : ` · ${s.size.width} x ${s.size.height}`}
            {s.format === "" ? "" : ` · ${s.format}`}
          </Text>
        </Flex>
        <BandLine tally={tally} height={BAND_HEIGHT} />
        <Flex gap="3" justify="space-between" fontSize="xs">
          <Text color={odd === "" ? "softInk" : "ochre"}>
            {s.known === null
              ? odd === ""
                ? "Every number is there, once."
                : `${odd}.`
              : `In the tally already, as ${s.known}.`}
          </Text>
          {s.newestMs !== null && now !== null && (
            <Text color="softInk" className="figures" whiteSpace="nowrap">
              newest {clock(s.newestMs, now)}
            </Text>
          )}
        </Flex>
        {fault !== null && (
          <Text fontSize="xs" color="brick" role="alert">
            {fault}
          </Text>
        )}
      </Box>
      <Input
        size="xs"
        fontFamily="mono"
        bg="sheet"
        aria-label={`Camera of ${path}`}
        value={camera}
        disabled={!isChosen}
        onChange={(event) => onChange({ camera: event.target.value })}
      />
      {isChosen ? (
        <Select
          label={`Pass of ${path}`}
          value={pass}
          options={PASSES.map((name) => [name, name] as const)}
          onChange={(next) => onChange({ pass: next })}
        />
      ) : (
        <Text fontSize="sm" color="softInk" px="2">
          {pass}
        </Text>
      )}
    </Grid>
  );
}

export function FoundTable({
  drafts,
  onChange,
}: {
  readonly drafts: readonly FoundDraft[];
  readonly onChange: (index: number, change: Partial<FoundDraft>) => void;
}) {
  const open = drafts.filter((d) => d.sequence.known === null);
  const chosen = open.filter((d) => d.isChosen).length;
  return (
    <Box>
      <Grid
        templateColumns="20px minmax(0, 1fr) 130px 130px"
        columnGap="3"
        fontSize="xs"
        color="softInk"
        mb="0.5"
      >
        <Checkbox.Root
          size="sm"
          checked={chosen === 0 ? false : chosen === open.length ? true : "indeterminate"}
          disabled={open.length === 0}
          onCheckedChange={({ checked }) =>
            drafts.forEach((d, i) => d.sequence.known === null && onChange(i, { isChosen: checked === true }))
          }
          aria-label="Take in all"
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
        </Checkbox.Root>
        <Text>sequence</Text>
        <Text>camera</Text>
        <Text>pass</Text>
      </Grid>
      <Box as="ul" listStyleType="none" aria-label="Sequences">
        {drafts.map((draft, i) => (
          <FoundRow
            key={`${draft.sequence.folder}/${draft.sequence.name}`}
            draft={draft}
            onChange={(change) => onChange(i, change)}
          />
        ))}
      </Box>
    </Box>
  );
}
