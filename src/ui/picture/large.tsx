"use client";
/** What lies over the whole page to show a picture large; what is under it keeps its state and rests. */
import { Dialog, Portal } from "@chakra-ui/react";
import { type ReactNode, useRef } from "react";
import { useEscape } from "../page/use-keys";

export function Large({
  label,
  testId,
  onClose,
  children,
}: {
  /** For screen readers. */
  readonly label: string;
  readonly testId: string;
  /** By Escape, unless something inside has taken that for itself. */
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const surface = useRef<HTMLDivElement>(null);
  useEscape(onClose);
  return (
    <Dialog.Root
      open
      size="full"
      motionPreset="none"
      scrollBehavior="inside"
      // Escape closes the innermost first: what is being written inside, then this.
      closeOnEscape={false}
      closeOnInteractOutside={false}
      initialFocusEl={() => surface.current}
    >
      <Portal>
        <Dialog.Positioner>
          <Dialog.Content
            ref={surface}
            display="flex"
            flexDirection="column"
            bg="paper"
            borderRadius="0"
            boxShadow="none"
            fontSize="sm"
            aria-label={label}
            data-testid={testId}
            tabIndex={-1}
            outline="none"
          >
            {children}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
