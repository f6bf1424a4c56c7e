"use client";
/** Patch over all shots of a project: what is to be rendered again, why, and the runs that do it. */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { useState } from "react";
import type { PatchView } from "@/contract/patch-view";
import { formatPhrase } from "@/core/frames/phrase";
import { unpackSet } from "@/core/tally/packed";
import { whyText } from "../check/words";
import { Toggle } from "../fields/fields";
import { messageOf, projectPage, shotPage } from "../live/api";
import { useShots } from "../live/queries";
import { Copy } from "../page/copy";
import { Header } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { count, frames } from "../words";
import { framesOf, type Started, usePatches, useStartPatches } from "./use-patches";
import { UNDERLINED } from "../theme/underlined";

const shotsText = (n: number): string => `${count(n)} shot${n === 1 ? "" : "s"}`;

export function ProjectPatchPage({ project }: { readonly project: string }) {
  const { data, error } = useShots(project);
  return (
    <Flex direction="column" minH="100vh">
      <Header project={data?.project ?? null} />
      {data === undefined && error === null && <Loading what="the shots" />}
      {data === undefined && error !== null && (
        <Trouble title="The patch lists cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && (
        <Box as="main" px="6" py="5" w="100%" maxW="1100px" mx="auto">
          <Flex gap="4" align="baseline" mb="1">
            <Heading as="h1" fontSize="xl">
              Patch all shots
            </Heading>
            <Box asChild color="petrol" textDecoration="underline">
              <NextLink href={projectPage(project)}>{data.project.title}</NextLink>
            </Box>
          </Flex>
          <Lists
            project={project}
            codes={[...new Set([...data.shots.map((line) => line.code), ...data.rest])]}
          />
        </Box>
      )}
    </Flex>
  );
}

function Lists({ project, codes }: { readonly project: string; readonly codes: readonly string[] }) {
  const { lists, waiting, error } = usePatches(project, codes);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const start = useStartPatches();
  const ours = lists.filter((list) => !list.isWatched);
  const taken = ours.filter(({ code }) => !left.has(code));
  const todo = taken.reduce((sum, list) => sum + framesOf(list), 0);
  return (
    <>
      <Text mb="4" className="figures" role="status" minH="1lh" data-testid="patch-sentence">
        {waiting > 0
          ? `Asked: ${count(codes.length - waiting)} of ${shotsText(codes.length)}.`
          : lists.length === 0
            ? "Nothing is missing, failed, flagged or out of date."
            : `${frames(lists.reduce((sum, list) => sum + framesOf(list), 0))} in ${shotsText(lists.length)} need rendering.`}
      </Text>
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      {lists.map((list) => (
        <ShotList
          key={list.code}
          project={project}
          list={list}
          isTaken={!left.has(list.code)}
          onTake={(isTaken) =>
            setLeft((before) => {
              const next = new Set(before);
              if (isTaken) next.delete(list.code);
              else next.add(list.code);
              return next;
            })
          }
          came={start.data?.get(list.code)}
        />
      ))}
      {ours.length > 0 && (
        <Flex gap="4" align="center" mt="5">
          <Button
            disabled={taken.length === 0 || waiting > 0}
            loading={start.isPending}
            onClick={() => start.mutate(taken)}
          >
            Render {frames(todo)} in {count(taken.length)} run{taken.length === 1 ? "" : "s"}
          </Button>
          <Text color="softInk">A run for each shot; good frames keep their files, bytes and times.</Text>
        </Flex>
      )}
      {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
    </>
  );
}

function ShotList({
  project,
  list,
  isTaken,
  onTake,
  came,
}: {
  readonly project: string;
  readonly list: PatchView;
  readonly isTaken: boolean;
  readonly onTake: (isTaken: boolean) => void;
  readonly came: Started extends ReadonlyMap<string, infer T> ? T | undefined : never;
}) {
  const { code, version, isWatched, sequences, leftOut } = list;
  return (
    <Box
      as="section"
      aria-label={code}
      borderTopWidth="1px"
      borderColor="rule"
      py="3"
      data-testid="patch-shot"
    >
      <Flex gap="3" align="center">
        {isWatched ? (
          <Text fontWeight="700">{code}</Text>
        ) : (
          <Toggle isOn={isTaken} onChange={onTake}>
            <b>{code}</b>
          </Toggle>
        )}
        <Text fontFamily="mono">{version}</Text>
        <Text className="figures">{frames(framesOf(list))}</Text>
        <Box asChild color="petrol" textDecoration="underline" ml="auto">
          <NextLink href={shotPage({ project, code })}>Open</NextLink>
        </Box>
      </Flex>
      {sequences.map(({ camera, pass, ranges }) =>
        ranges.map(({ result, why, isSaid, frames: packed }) => {
          const set = unpackSet(packed);
          const phrase = formatPhrase(set);
          const label = whyText({ result, why, isSaid });
          return (
            <Flex
              key={`${camera} ${pass} ${result} ${why}`}
              gap="3"
              ml="6"
              py="1"
              align="baseline"
              {...UNDERLINED}
              data-testid="patch-range"
            >
              <Text w="220px" flexShrink={0} overflowWrap="anywhere">
                {label}
              </Text>
              <Text fontFamily="mono" flex="1" minW="0" overflowWrap="anywhere">
                {phrase}
              </Text>
              <Text color="softInk" flexShrink={0} className="figures">
                {sequences.length > 1 || pass !== "beauty" ? `${camera} ${pass}, ` : ""}
                {frames(set.count)}
              </Text>
              <Copy text={phrase} what={`${code}, ${label}`} />
            </Flex>
          );
        }),
      )}
      {isWatched && (
        <Text ml="6" mt="1" color="softInk">
          Something else renders its frames: ask for these there.
        </Text>
      )}
      {leftOut.map(({ node, bad, of }) => (
        <Text key={node} ml="6" mt="1">
          <b>{node}</b> is left out: {count(bad)} of the {count(of)} bad frames whose maker is known came from
          it.
        </Text>
      ))}
      {came !== undefined &&
        ("runId" in came ? (
          <Text ml="6" mt="1" role="status">
            Run {came.runId} is started.
          </Text>
        ) : (
          <Box ml="6">
            <Refusal>{came.refused}</Refusal>
          </Box>
        ))}
    </Box>
  );
}
