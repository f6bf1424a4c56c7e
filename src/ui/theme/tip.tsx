"use client";
/** A tooltip: what a button does and its key. */
import { Portal, Tooltip } from "@chakra-ui/react";
import type { ReactElement } from "react";

/** Never holds what is needed to decide: a finger cannot hover. */
export function Tip({ text, children }: { readonly text: string; readonly children: ReactElement }) {
  return (
    // It waits, so that a hand on its way does not set off a trail of them.
    <Tooltip.Root openDelay={400} closeDelay={80}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Portal>
        <Tooltip.Positioner>
          <Tooltip.Content bg="ink" color="paper" fontSize="xs">
            {text}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </Portal>
    </Tooltip.Root>
  );
}
