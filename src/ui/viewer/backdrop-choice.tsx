"use client";
/** The file of a picture behind transparent ones. Until one is chosen, squares stand there. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { useRef } from "react";
import type { Backdrop } from "./use-backdrop";

export function BackdropChoice({ backdrop }: { readonly backdrop: Backdrop }) {
  const { name, fault, choose } = backdrop;
  const file = useRef<HTMLInputElement>(null);
  return (
    <Flex gap="2" align="center">
      <input
        ref={file}
        type="file"
        hidden
        accept="image/*"
        aria-label="Picture of the background"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen !== undefined) choose(chosen);
          // The same file once more is a change again.
          event.target.value = "";
        }}
      />
      <Button size="xs" variant="outline" onClick={() => file.current?.click()}>
        {name === null ? "Choose the picture…" : "Another…"}
      </Button>
      {name !== null && (
        <Text fontSize="xs" fontFamily="mono">
          {name}
        </Text>
      )}
      {fault !== null && (
        <Text fontSize="xs" color="brick" role="alert">
          {fault}
        </Text>
      )}
    </Flex>
  );
}
