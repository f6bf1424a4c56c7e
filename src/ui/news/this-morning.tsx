"use client";
/**
 * What happened since one last looked, above the ledger: made, mended by itself, waiting for eyes, standing still, and
 * the one next step of each shot. When one last looked is this browser's own affair.
 */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import NextLink from "next/link";
import { useEffect, useState } from "react";
import type { NewsOfShot, NewsView } from "@/contract/news";
import type { NextStep } from "@/core/tally/next-step";
import { get, shotPage } from "../live/api";
import { useNow } from "../page/header";
import { clock } from "../words";

const SEEN = "plain-tally.news-seen";
/** Of one who was never here: a night. */
const NIGHT_MS = 12 * 3_600_000;
/** While the ledger is open, what happens is seen there; it is asked for again for who leaves it open all night. */
const AGAIN_MS = 60_000;

const BENCH: Readonly<Record<NextStep["step"], string>> = {
  watch: "run",
  resume: "run",
  run: "run",
  "run-rest": "run",
  ask: "run",
  patch: "patch",
  "hand-over": "handover",
};
const STEP: Readonly<Record<NextStep["step"], string>> = {
  watch: "Watch",
  resume: "Go on",
  run: "Run",
  "run-rest": "Run the rest",
  ask: "Ask for them",
  patch: "Patch",
  "hand-over": "Hand over",
};

/** When one last looked; null until this browser has said so. */
function useSeen(): readonly [number | null, () => void] {
  const [seen, setSeen] = useState<number | null>(null);
  useEffect(() => {
    const kept = Number(localStorage.getItem(SEEN));
    setSeen(Number.isFinite(kept) && kept > 0 ? kept : Date.now() - NIGHT_MS);
  }, []);
  return [
    seen,
    () => {
      localStorage.setItem(SEEN, String(Date.now()));
      setSeen(Date.now());
    },
  ];
}

/** @param props.isNamed says of which project it is */
function ShotLines({ news, isNamed }: { readonly news: NewsOfShot; readonly isNamed: boolean }) {
  return (
    <Box py="1.5" borderTopWidth="1px" borderColor="rule" data-testid="news-of-shot">
      <Flex gap="3" align="baseline">
        <Text fontWeight="700">
          {isNamed ? `${news.projectTitle}: ` : ""}
          {news.shot}
        </Text>
        <Text color="softInk" fontFamily="mono" fontSize="xs">
          {news.version}
        </Text>
        <Text minW="0" flex="1">
          {news.sentence}
        </Text>
        <Button asChild size="xs" variant="outline" flexShrink={0} className="on-screen">
          <NextLink
            href={`${shotPage({ project: news.project, code: news.shot })}?bench=${BENCH[news.step.step]}`}
          >
            {STEP[news.step.step]}
          </NextLink>
        </Button>
      </Flex>
      <Box fontSize="sm" className="figures">
        {[...news.made, ...news.mended].map((line) => (
          <Text key={line} color="softInk">
            {line}
          </Text>
        ))}
        {news.eyes.map((line) => (
          <Text key={line} color="brick">
            {line}
          </Text>
        ))}
        {news.still.map((line) => (
          <Text key={line} color="ochre">
            {line}
          </Text>
        ))}
      </Box>
    </Box>
  );
}

/** Nothing at all while there is no news. @param project only shots of this one; null: of all */
export function ThisMorning({ project }: { readonly project: string | null }) {
  const [seen, look] = useSeen();
  const now = useNow();
  const news = useQuery({
    queryKey: ["news", seen],
    queryFn: ({ signal }) =>
      get<NewsView>(`/api/news?${new URLSearchParams({ since: new Date(seen!).toISOString() })}`, signal),
    enabled: seen !== null,
    refetchInterval: AGAIN_MS,
  });
  const shots = news.data?.shots.filter((shot) => project === null || shot.project === project) ?? [];
  if (seen === null || now === null || shots.length === 0) return null;
  return (
    <Box
      as="section"
      aria-label="News"
      bg="sheet"
      borderWidth="1px"
      borderColor="rule"
      px="5"
      py="3"
      mb="5"
      className="printed-alone"
      data-testid="news"
    >
      <Flex gap="4" align="baseline" mb="1.5" flexWrap="wrap">
        <Heading as="h2" fontSize="md">
          Since {clock(seen, now)}
        </Heading>
        <Text color="softInk" fontSize="sm">
          {news.data?.nodes.join("; ")}
        </Text>
        <Flex gap="4" ml="auto" className="on-screen">
          <Button size="xs" variant="plain" px="0" onClick={() => window.print()}>
            Print
          </Button>
          <Button size="xs" variant="plain" px="0" onClick={look}>
            I have seen it
          </Button>
        </Flex>
      </Flex>
      <Box
        maxH={{ base: "none", lg: "280px" }}
        overflowY="auto"
        css={{ "@media print": { maxHeight: "none" } }}
      >
        {shots.map((shot) => (
          <ShotLines
            key={`${shot.project} ${shot.shot} ${shot.version} ${shot.sentence}`}
            news={shot}
            isNamed={project === null}
          />
        ))}
      </Box>
    </Box>
  );
}
