"use client";
/**
 * What happened since one last looked, above the ledger: made, mended by itself, waiting for eyes, standing still, and
 * the one next step of each shot. When one last looked is this browser's own affair.
 */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import NextLink from "next/link";
import { useEffect, useState } from "react";
import type { HandoverNews } from "@/core/news/shot-news";
import type { NewsOfEdit, NewsOfShot, NewsView } from "@/contract/news";
import { get, projectPage, shotPage } from "../live/api";
import { useNow } from "../page/header";
import { stepLabel } from "../next-step-label";
import { clock } from "../words";

const SEEN = "plain-tally.news-seen";
/** Of one who was never here: a night. */
const NIGHT_MS = 12 * 3_600_000;
/** While the ledger is open, what happens is seen there; it is asked for again for who leaves it open all night. */
const AGAIN_MS = 60_000;

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

/** Lines of one shot or edit under its name, and what to do about it next. */
function Told({
  name,
  version = "",
  sentence = "",
  news: { made, mended = [], eyes, still },
  next,
}: {
  readonly name: string;
  readonly version?: string;
  readonly sentence?: string;
  readonly news: HandoverNews & { readonly mended?: readonly string[] };
  readonly next: { readonly href: string; readonly label: string };
}) {
  return (
    <Box py="1.5" borderTopWidth="1px" borderColor="rule" data-testid="news-of-shot">
      <Flex gap="3" align="baseline">
        <Text fontWeight="700">{name}</Text>
        <Text color="softInk" fontFamily="mono" fontSize="xs">
          {version}
        </Text>
        <Text minW="0" flex="1">
          {sentence}
        </Text>
        <Button asChild size="xs" variant="outline" flexShrink={0} className="on-screen">
          <NextLink href={next.href}>{next.label}</NextLink>
        </Button>
      </Flex>
      <Box fontSize="sm" className="figures">
        {[...made, ...mended].map((line) => (
          <Text key={line} color="softInk">
            {line}
          </Text>
        ))}
        {eyes.map((line) => (
          <Text key={line} color="brick">
            {line}
          </Text>
        ))}
        {still.map((line) => (
          <Text key={line} color="ochre">
            {line}
          </Text>
        ))}
      </Box>
    </Box>
  );
}

/** @param props.isNamed says of which project it is */
function ShotLines({ news, isNamed }: { readonly news: NewsOfShot; readonly isNamed: boolean }) {
  const { label, bench } = stepLabel(news.step);
  return (
    <Told
      name={isNamed ? `${news.projectTitle}: ${news.shot}` : news.shot}
      version={news.version}
      sentence={news.sentence}
      news={news}
      next={{
        href: `${shotPage({ project: news.project, code: news.shot })}?bench=${bench}`,
        label,
      }}
    />
  );
}

const EditLines = ({ news, isNamed }: { readonly news: NewsOfEdit; readonly isNamed: boolean }) => (
  <Told
    name={isNamed ? `${news.projectTitle}: the edit` : "The edit"}
    news={news}
    next={{ href: `${projectPage(news.project)}/hand-over`, label: "Hand over" }}
  />
);

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
  const isAsked = (told: { readonly project: string }): boolean =>
    project === null || told.project === project;
  const shots = news.data?.shots.filter(isAsked) ?? [];
  const edits = news.data?.edits.filter(isAsked) ?? [];
  if (seen === null || now === null || shots.length + edits.length === 0) return null;
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
        {edits.map((edit) => (
          <EditLines key={edit.project} news={edit} isNamed={project === null} />
        ))}
      </Box>
    </Box>
  );
}
