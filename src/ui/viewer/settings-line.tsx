"use client";
/** A line of choices under the picture. A choice that was made lets go of the keys: Space plays again. */
import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { leaveChoice } from "./leave-choice";

export function SettingsLine({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <Flex
      gap="2"
      rowGap="1"
      align="center"
      flexWrap="wrap"
      role="group"
      aria-label={label}
      onChange={leaveChoice}
    >
      {children}
    </Flex>
  );
}
