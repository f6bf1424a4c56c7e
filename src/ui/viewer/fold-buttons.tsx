"use client";
import { Button, HStack } from "@chakra-ui/react";
import { Tip } from "../theme/tip";
import type { Fold } from "./folds";
import { FOLD_TEXT } from "./words";

/** A button for each line of settings: pressed while its line is open. */
export function Folds({
  open,
  onOpen,
  offered,
}: {
  readonly open: readonly Fold[];
  readonly onOpen: (open: readonly Fold[]) => void;
  readonly offered: readonly Fold[];
}) {
  return (
    <HStack gap="1" ml={{ lg: "auto" }} role="group" aria-label="Settings">
      {offered.map((fold) => {
        const isOpen = open.includes(fold);
        return (
          <Tip key={fold} text={FOLD_TEXT[fold].tip}>
            <Button
              size="xs"
              variant="plain"
              aria-expanded={isOpen}
              onClick={() => onOpen(isOpen ? open.filter((one) => one !== fold) : [...open, fold])}
            >
              {FOLD_TEXT[fold].label} {isOpen ? "▴" : "▾"}
            </Button>
          </Tip>
        );
      })}
    </HStack>
  );
}
