"use client";
/** The one pattern of all benches: what you decide on the left, what follows from it on the right. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { UNDERLINED } from "../theme/underlined";

export interface BenchProps {
  /** What is decided here. */
  readonly left: ReactNode;
  /** Stays in sight under the left side: the button that acts. */
  readonly foot?: ReactNode;
  /** What follows from it: never anything that must be filled in. */
  readonly right: ReactNode;
}

/** Both sides scroll by themselves; the foot, with the buttons that save, is always in sight. */
export function Bench({ left, foot, right }: BenchProps) {
  return (
    <Grid
      templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }}
      templateRows={{ lg: "minmax(0, 1fr)" }}
      bg="sheet"
      borderWidth="1px"
      borderColor="rule"
      flex="1"
      minH="0"
      minW="0"
    >
      <Flex direction="column" minH="0" minW="0">
        <Box className="scrolls" px="5" py="3" overflowY="auto" flex="1" minH="0">
          {left}
        </Box>
        {foot !== undefined && (
          <Box px="5" py="2.5" borderTopWidth="1px" borderColor="rule">
            {foot}
          </Box>
        )}
      </Flex>
      <Flex
        className="scrolls"
        direction="column"
        px="5"
        py="3"
        overflowY="auto"
        minH="0"
        minW="0"
        borderLeftWidth={{ lg: "1px" }}
        borderTopWidth={{ base: "1px", lg: "0" }}
        borderColor="rule"
      >
        {right}
      </Flex>
    </Grid>
  );
}

/** What a part of a bench is called. */
export function Caption({ children }: { readonly children: ReactNode }) {
  return (
    <Text fontWeight="700" mb="1.5">
      {children}
    </Text>
  );
}

/** One line of a ledger: what it is, and the figure. */
export function Line({ label, children }: { readonly label: ReactNode; readonly children: ReactNode }) {
  return (
    <Flex justify="space-between" gap="4" py="1" {...UNDERLINED} className="figures">
      <Box color="softInk" flexShrink={0}>
        {label}
      </Box>
      <Box textAlign="right" minW="0" overflowWrap="anywhere">
        {children}
      </Box>
    </Flex>
  );
}
