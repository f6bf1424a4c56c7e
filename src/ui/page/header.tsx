"use client";
/**
 * The line on top of every page: where you are, who works, day or night, help; and what is wrong, when
 * something is.
 */
import { Box, Button, Flex, HStack, Text } from "@chakra-ui/react";
import { Moon, Sun } from "lucide-react";
import { useTheme } from "next-themes";
import NextLink from "next/link";
import { projectPage } from "../live/api";
import { useEffect, useState } from "react";
import { useLive } from "../live/live-store";
import { Tip } from "../theme/tip";
import { clock, duration } from "../words";
import { Account } from "./account";

/** What counts seconds on the page moves with it. */
const TICK_MS = 1_000;

/** The time, once a second; null before the page is alive, so that server and browser agree. */
export function useNow(): number | null {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => {
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), TICK_MS);
    return () => clearInterval(timer);
  }, []);
  return now;
}

/** How many there are and what most people ask next: are they at work, is one lost. */
function nodesText(nodes: ReturnType<typeof useLive>["nodes"]): string {
  const there = nodes.filter((n) => n.state !== "stopped");
  if (there.length === 0) return "no node is there";
  const atWork = there.filter((n) => n.state === "at-work").length;
  const away = there.filter((n) => n.state === "away").length;
  const aside = there.filter((n) => n.state === "set-aside").length;
  return `${there.length} node${there.length === 1 ? "" : "s"} · ${atWork} at work${aside > 0 ? ` · ${aside} set aside` : ""}${away > 0 ? ` · ${away} not heard of` : ""}`;
}

/** Says on the document that the page hears what people do: its first HTML is there before. */
export function useAlive(): void {
  useEffect(() => {
    document.documentElement.dataset.alive = "";
  }, []);
}

/** @param project null on pages that belong to no project */
export function Header({
  project,
}: {
  readonly project: { readonly title: string; readonly slug: string } | null;
}) {
  useAlive();
  const live = useLive();
  const now = useNow();
  const { resolvedTheme, setTheme } = useTheme();
  const isNight = now !== null && resolvedTheme === "dark";
  const ago =
    live.lastFrameSeconds === null || now === null
      ? null
      : live.lastFrameSeconds + Math.max(0, now - live.at) / 1000;
  return (
    <>
      <Flex
        as="header"
        h="36px"
        px="6"
        align="center"
        gap="5"
        whiteSpace="nowrap"
        flexShrink={0}
        borderBottomWidth="1px"
        borderColor="rule"
        fontSize="xs"
      >
        <Box asChild fontSize="md" fontWeight="700">
          <NextLink href="/">Plain Tally</NextLink>
        </Box>
        <Box
          asChild
          color="softInk"
          _hover={{ color: "petrol" }}
          display={{ base: project === null ? "block" : "none", sm: "block" }}
        >
          <NextLink href="/projects">Projects</NextLink>
        </Box>
        <Box asChild color="softInk" _hover={{ color: "petrol" }} display={{ base: "none", md: "block" }}>
          <NextLink href="/runs">Runs</NextLink>
        </Box>
        <Box asChild color="softInk" _hover={{ color: "petrol" }} display={{ base: "none", md: "block" }}>
          <NextLink href="/settings">Settings</NextLink>
        </Box>
        {project !== null && (
          <Box asChild fontSize="sm" _hover={{ color: "petrol" }}>
            <NextLink href={projectPage(project.slug)}>{project.title}</NextLink>
          </Box>
        )}
        <HStack ml="auto" gap="4" color="softInk" className="figures">
          {live.at > 0 && (
            <Text
              display={{ base: "none", md: "block" }}
              title={live.nodes.map((n) => `${n.name}: ${n.state.replace("-", " ")}`).join("\n")}
            >
              <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
                <NextLink href="/nodes">{nodesText(live.nodes)}</NextLink>
              </Box>
              {ago === null
                ? ""
                : ` · last frame ${duration(Math.round(ago))} ago`.replace(/(\d)\.\d+ s/, "$1 s")}
            </Text>
          )}
          <Box display={{ base: "none", md: "block" }}>
            <Account />
          </Box>
          <Tip text="Keys and the frame phrase language (?)">
            <Button asChild variant="plain" size="xs">
              <NextLink href="/help">Help</NextLink>
            </Button>
          </Tip>
          <Tip text={isNight ? "Day version" : "Night version, for dark rooms"}>
            <Button
              variant="plain"
              size="xs"
              aria-label={isNight ? "Day version" : "Night version"}
              onClick={() => setTheme(isNight ? "light" : "dark")}
            >
              {isNight ? <Sun size={16} /> : <Moon size={16} />}
            </Button>
          </Tip>
        </HStack>
      </Flex>
      {live.outOfSight.map(({ project: slug, folder, since, why }) => (
        <Box
          key={slug}
          role="alert"
          px="6"
          py="2"
          bg="brick"
          color="onPetrol"
          fontSize="sm"
          data-testid="out-of-sight"
        >
          The folder of {slug}, {folder}, cannot be seen
          {now === null ? "" : ` since ${clock(since, now)}`} ({why}). Nothing is forgotten: all is as it was
          when the folder is back.
        </Box>
      ))}
      {live.trouble !== null && (
        <Box role="alert" px="6" py="2" bg="brick" color="onPetrol" fontSize="sm">
          {live.trouble}
        </Box>
      )}
    </>
  );
}
