"use client";
/**
 * The states that every page has besides the full one.
 * A page shows one of four: loading, in trouble, empty, or full. The first three look the same everywhere
 * and take the place of the whole page, so that no half of it is believed.
 */
import { Box, Heading, Spinner, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** @param what in the middle of a sentence: "Loading the shots." */
export function Loading({ what }: { readonly what: string }) {
  return (
    <Box px="6" py="10" color="softInk" role="status">
      <Spinner size="sm" mr="3" color="petrol" />
      Loading {what}.
    </Box>
  );
}

/** Says whose fault, where, and what now. The page asks again by itself. */
export function Trouble({ title, message }: { readonly title: string; readonly message: string }) {
  return (
    <Box px="6" py="10" maxW="640px" role="alert">
      <Heading as="h1" fontSize="lg" mb="2">
        {title}
      </Heading>
      <Text mb="2" overflowWrap="anywhere">
        {message}
      </Text>
      <Text color="softInk">This page looks again every two seconds and goes on by itself.</Text>
    </Box>
  );
}

/** Says what would be here and how it comes here. */
export function Empty({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <Box px="6" py="10" maxW="640px">
      <Heading as="h1" fontSize="lg" mb="2">
        {title}
      </Heading>
      <Box color="softInk">{children}</Box>
    </Box>
  );
}

/** Why something that was asked for did not happen, beside where it was asked. */
export function Refusal({ children }: { readonly children: ReactNode }) {
  return (
    <Text role="alert" color="brick" fontSize="sm">
      {children}
    </Text>
  );
}
