"use client";
/** The lanes of the band: which are open, and how many are folded. */
import { Button, Menu, Portal } from "@chakra-ui/react";
import type { LaneName } from "./lanes";

/** Which lanes are open; says how many are folded. */
export function LaneChoice({
  known,
  open,
  onOpen,
}: {
  /** Those that have something to show here. */
  readonly known: readonly LaneName[];
  readonly open: readonly LaneName[];
  readonly onOpen: (open: readonly LaneName[]) => void;
}) {
  return (
    <Menu.Root closeOnSelect={false} positioning={{ placement: "bottom-end" }}>
      <Menu.Trigger asChild>
        <Button size="xs" variant="plain" px="0" h="18px" fontSize="12px">
          {open.length} of {known.length} lanes
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {known.map((name) => (
              <Menu.CheckboxItem
                key={name}
                value={name}
                checked={open.includes(name)}
                onCheckedChange={(isOpen) =>
                  onOpen(isOpen ? [...open, name] : open.filter((lane) => lane !== name))
                }
              >
                <Menu.ItemIndicator />
                {name}
              </Menu.CheckboxItem>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
