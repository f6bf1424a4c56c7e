"use client";
/** One bench at a time, named by verbs in the order of the work. */
import { Flex, Tabs } from "@chakra-ui/react";
import { memo, type ReactNode } from "react";
import { BENCHES, type BenchName, useShotWork, WhileShown } from "../shot/shot-context";
import { Tip } from "../theme/tip";

/** Verbs: what one does there. */
const BENCH_TITLE: Readonly<Record<BenchName, string>> = {
  plan: "Plan",
  prove: "Prove",
  run: "Run",
  check: "Check",
  patch: "Patch",
  handover: "Hand over",
};

/** @param props.benches the same elements as long as nothing was chosen in them anew */
export const BenchTabs = memo(function BenchTabs({
  benches,
}: {
  readonly benches: Readonly<Record<BenchName, ReactNode>>;
}) {
  const { bench, openBench } = useShotWork();
  return (
    <Tabs.Root
      value={bench}
      onValueChange={(details) => openBench(details.value as BenchName)}
      display="flex"
      flexDirection="column"
      flex="1"
      minH="0"
      variant="line"
      size="md"
    >
      <Tabs.List
        borderBottomWidth="0"
        mb="1"
        minH="28px"
        flexWrap={{ base: "wrap", md: "nowrap" }}
        aria-label="Benches"
      >
        {BENCHES.map((name, i) => (
          <Tip key={name} text={`Key ${i + 1}`}>
            <Tabs.Trigger
              value={name}
              px="0"
              mr="7"
              h="28px"
              fontSize="md"
              color="softInk"
              _selected={{ color: "ink", fontWeight: "700", _before: { bg: "ink", h: "3px" } }}
            >
              {BENCH_TITLE[name]}
            </Tabs.Trigger>
          </Tip>
        ))}
      </Tabs.List>
      {BENCHES.map((name) => (
        // A bench that is not open keeps what was decided there, and frames that are made do not draw it anew.
        // (React's own Activity would also rest its questions, but comes alive after the page does: clicks
        // on a busy machine were lost.)
        <Tabs.Content
          key={name}
          value={name}
          p="0"
          flex="1"
          minH="0"
          display="flex"
          _closed={{ display: "none" }}
        >
          <Flex flex="1" minH="0" minW="0">
            <WhileShown isShown={name === bench}>{benches[name]}</WhileShown>
          </Flex>
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
});
