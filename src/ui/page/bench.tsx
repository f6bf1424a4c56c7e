"use client";
/** The one pattern of all benches: what you decide on the left, what follows from it on the right. */
import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

export function Bench({ left, right }: { readonly left: ReactNode; readonly right: ReactNode }) {
  return (
    <Grid templateColumns={{ base: "1fr", lg: "1fr 1fr" }} bg="sheet" borderWidth="1px" borderColor="rule" flex="1" minH="0">
      <Box p="4" px="5" overflowY="auto" minH="0">{left}</Box>
      <Box p="4" px="5" overflowY="auto" minH="0" borderLeftWidth={{ lg: "1px" }} borderTopWidth={{ base: "1px", lg: "0" }} borderColor="rule">{right}</Box>
    </Grid>
  );
}

export function Caption({ children }: { readonly children: ReactNode }) {
  return <Text fontWeight="700" mb="2">{children}</Text>;
}

/** One line of a ledger: what it is, and the figure. */
export function Line({ label, children }: { readonly label: ReactNode; readonly children: ReactNode }) {
  return (
    <Flex justify="space-between" gap="4" py="1.5" borderBottomWidth="1px" borderStyle="dotted" borderColor="rule" className="figures">
      <Box color="softInk" flexShrink={0}>{label}</Box>
      <Box textAlign="right" minW="0" overflowWrap="anywhere">{children}</Box>
    </Flex>
  );
}
