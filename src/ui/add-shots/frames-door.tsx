"use client";
/** The door for frames that are there: a path to look at, or the folders to choose from. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { messageOf, takeInPage } from "../live/api";

/** @param ensureProject makes it where there is none yet */
export function FramesDoor({
  ensureProject,
  onTrouble,
}: {
  readonly ensureProject: () => Promise<string>;
  readonly onTrouble: (message: string) => void;
}) {
  const router = useRouter();
  const [path, setPath] = useState("");
  const go = (folder: string): void =>
    void ensureProject()
      .then((project) => router.push(takeInPage(project, folder)))
      .catch((error: unknown) => onTrouble(messageOf(error)));
  return (
    <Flex
      as="form"
      direction="column"
      gap="2"
      align="start"
      onSubmit={(event) => {
        event.preventDefault();
        go(path.trim());
      }}
    >
      <Input
        size="xs"
        fontFamily="mono"
        bg="sheet"
        aria-label="Path of a folder of frames"
        placeholder="/mnt/films/from-farm/HL050"
        value={path}
        onChange={(event) => setPath(event.target.value)}
      />
      <Flex gap="3" align="center">
        <Button type="submit" size="xs" variant="outline" disabled={path.trim() === ""}>
          Look
        </Button>
        <Button size="xs" variant="plain" onClick={() => go("")}>
          or choose a folder
        </Button>
      </Flex>
      <Text fontSize="xs" color="softInk">
        One of your own computer can be{" "}
        <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
          <NextLink href="/check-folder">checked in the browser</NextLink>
        </Box>
        , without sending a byte.
      </Text>
    </Flex>
  );
}
