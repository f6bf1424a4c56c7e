"use client";
/** Who acts: where people sign in, who has and the way out; else the name that one gives. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import NextLink from "next/link";
import type { Role } from "@/core/access/roles";
import { post } from "../live/api";
import { loadPage, signInPage } from "../live/load-page";
import { useMe } from "../live/queries";
import { Tip } from "../theme/tip";
import { WhoField } from "./who-field";

const MAY: Readonly<Record<Role, string>> = {
  look: "You see everything and change nothing",
  mark: "You may flag, judge and check",
  run: "You may plan, render and hand over",
  "keep-house": "You keep the house: people, nodes, what was done",
};

export function Account() {
  const { data: me } = useMe();
  const go = useMutation({
    mutationFn: () => post("/api/sign-out"),
    onSuccess: () => loadPage(signInPage("/")),
  });
  if (me === undefined || !me.isLocked || me.name === null || me.role === null) return <WhoField />;
  return (
    <Flex gap="3" align="center" data-testid="account">
      <Tip text={MAY[me.role]}>
        {me.role === "keep-house" ? (
          <Button asChild variant="plain" size="xs">
            <NextLink href="/people">{me.name}</NextLink>
          </Button>
        ) : (
          <Text tabIndex={0}>{me.name}</Text>
        )}
      </Tip>
      <Button variant="plain" size="xs" loading={go.isPending} onClick={() => go.mutate()}>
        Sign out
      </Button>
    </Flex>
  );
}
