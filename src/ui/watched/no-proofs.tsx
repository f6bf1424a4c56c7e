"use client";
/** Prove, where there is nothing to prove here. */
import { Text } from "@chakra-ui/react";
import { Bench, Caption } from "../page/bench";
import { RenderHere } from "./render-here";

export function NoProofs() {
  return (
    <Bench
      left={
        <>
          <Caption>Proofs are made where frames are rendered</Caption>
          <Text color="softInk">
            These frames come from somewhere else. What a frame takes there is told from how they come in,
            above the band; Check finds what is odd among them.
          </Text>
        </>
      }
      right={<RenderHere />}
    />
  );
}
