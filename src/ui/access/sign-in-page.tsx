"use client";
/** Name and key, and on to where somebody wanted to go. What was typed stays when it was wrong. */
import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { BOUNDS } from "@/contract/bounds";
import type { SignInBody } from "@/contract/people";
import { messageOf, post } from "../live/api";
import { loadPage } from "../live/load-page";
import { useMe } from "../live/queries";
import { Labelled } from "../page/field";
import { useAlive } from "../page/header";
import { Refusal } from "../page/states";
import { ACCESS_TEXT } from "./words";

/** Only a page of ours: an address that leads elsewhere would be a trap. */
export const ownPage = (to: string): string => (/^\/(?![/\\])/.test(to) ? to : "/");

export function SignInPage({ to }: { readonly to: string }) {
  useAlive();
  const me = useMe();
  const [name, setName] = useState("");
  const [key, setKey] = useState("");
  const come = useMutation({
    mutationFn: (body: SignInBody) => post("/api/sign-in", body),
    // Loaded anew: nothing of before is kept.
    onSuccess: () => loadPage(ownPage(to)),
  });
  return (
    <Flex direction="column" minH="100vh" align="center" pt="18vh" px="4">
      <Box w="100%" maxW="360px">
        <Heading as="h1" fontSize="2xl" mb="1">
          Plain Tally
        </Heading>
        {me.data?.isLocked === false && (
          <Text color="softInk" mb="3">
            {ACCESS_TEXT.alone}
          </Text>
        )}
        <Box asChild borderTopWidth="1px" borderColor="rule" pt="4">
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (name.trim() !== "" && key.trim() !== "")
                come.mutate({ name: name.trim(), key: key.trim() });
            }}
          >
            <Flex direction="column" gap="4">
              <Labelled label="Your name">
                <Input
                  autoFocus
                  size="sm"
                  bg="sheet"
                  autoComplete="username"
                  maxLength={BOUNDS.personName}
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
              </Labelled>
              <Labelled label="Your key" hint={ACCESS_TEXT.keyHint}>
                <Input
                  type="password"
                  size="sm"
                  bg="sheet"
                  fontFamily="mono"
                  autoComplete="current-password"
                  maxLength={BOUNDS.accessKey}
                  value={key}
                  onChange={(event) => setKey(event.target.value)}
                />
              </Labelled>
              {come.error !== null && <Refusal>{messageOf(come.error)}</Refusal>}
              <Box>
                <Button
                  type="submit"
                  size="sm"
                  loading={come.isPending || come.isSuccess}
                  disabled={name.trim() === "" || key.trim() === ""}
                >
                  {ACCESS_TEXT.signIn}
                </Button>
              </Box>
            </Flex>
          </form>
        </Box>
      </Box>
    </Flex>
  );
}
