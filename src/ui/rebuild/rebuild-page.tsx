"use client";
/** Rebuild: the tally brought back from what lies beside the frames, when the database is lost. */
import { Box, Button, Flex, Heading, Input, Link, Spinner, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "next/navigation";
import { useEffect, useState } from "react";
import type { LostTallyView, RebuildMessage, RebuiltView } from "@/contract/rebuild";
import type { PointedFolder } from "@/contract/take-in";
import { messageOf } from "../live/api";
import { useLostTallies } from "../live/queries";
import { useLines } from "../live/use-lines";
import { Header, useNow } from "../page/header";
import { Refusal } from "../page/states";
import { clock, count } from "../words";

const DOING: Readonly<Record<"lines" | "rows" | "files", (n: number) => string>> = {
  lines: (n) => `${count(n)} lines of its records read`,
  rows: (n) => `${count(n)} rows are back`,
  files: (n) => `files of ${count(n)} sequence${n === 1 ? "" : "s"} looked at`,
};

const plural = (n: number, what: string): string => `${count(n)} ${what}${n === 1 ? "" : "s"}`;

/** What is said of a list: its heading, and its lines. */
function Names({ title, names }: { readonly title: string; readonly names: readonly string[] }) {
  if (names.length === 0) return null;
  return (
    <Box mt="3">
      <Text color="softInk">{title}</Text>
      {names.map((name) => (
        <Text key={name} fontFamily="mono" fontSize="xs" overflowWrap="anywhere">
          {name}
        </Text>
      ))}
    </Box>
  );
}

function WhatCame({ rebuilt }: { readonly rebuilt: RebuiltView }) {
  const { projects, shots, versions, frames, attempts, flags, broken } = rebuilt;
  return (
    <Box
      role="status"
      borderTopWidth="2px"
      borderColor="ink"
      pt="3"
      mb="6"
      maxW="1000px"
      data-testid="rebuilt"
    >
      <Text fontWeight="700" className="figures">
        {projects === 0
          ? "Nothing had to be brought back."
          : `${plural(projects, "project")} back: ${plural(shots, "shot")}, ${plural(versions, "version")}, ${plural(frames, "frame")}, ${plural(attempts, "attempt")}, ${plural(flags, "open flag")}.`}
      </Text>
      {projects > 0 && (
        <Link href="/projects" color="petrol" textDecoration="underline" fontSize="sm">
          To the projects
        </Link>
      )}
      <Names title="In the tally already; they stay as they are:" names={rebuilt.there} />
      <Names
        title="No record knows these; their plan is read from their pictures:"
        names={rebuilt.fromPictures}
      />
      <Names title="Taken out of the tally by somebody; they stay out:" names={rebuilt.removed} />
      <Names title="Left out:" names={rebuilt.refused} />
      {broken > 0 && (
        <Text mt="3" color="ochre">
          {plural(broken, "line")} of records could not be used and {broken === 1 ? "was" : "were"} left out.
        </Text>
      )}
    </Box>
  );
}

function LostTally({
  tally,
  isBusy,
  onRebuild,
}: {
  readonly tally: LostTallyView;
  readonly isBusy: boolean;
  readonly onRebuild: () => void;
}) {
  const now = useNow();
  return (
    <Flex as="li" py="2" gap="4" align="baseline" borderTopWidth="1px" borderColor="rule">
      <Text fontFamily="mono" fontSize="sm" fontWeight="700" minW="0" overflowWrap="anywhere">
        {tally.path}
      </Text>
      <Text color="softInk" fontSize="xs" className="figures" ml="auto" whiteSpace="nowrap">
        {tally.writtenMs === null
          ? "no record: comes back from its pictures"
          : now === null
            ? ""
            : `written until ${clock(tally.writtenMs, now)}`}
      </Text>
      <Button size="xs" variant="outline" disabled={isBusy} onClick={onRebuild}>
        Bring back
      </Button>
    </Flex>
  );
}

export function RebuildPage() {
  const client = useQueryClient();
  const [path, setPath] = useState(useSearchParams().get("folder") ?? "");
  const { data, error: listError } = useLostTallies();
  const { isGoing, last, error, start, stop } = useLines<RebuildMessage, PointedFolder>("/api/rebuild");
  const isOver = !isGoing && last !== null;
  useEffect(() => {
    if (isOver) void client.invalidateQueries();
  }, [isOver, client]);
  const wrong = error ?? (last?.type === "wrong" ? last.message : null);
  return (
    <>
      <Header project={null} />
      <Box as="main" px="6" pt="5" pb="10" maxW="1280px" mx="auto">
        <Heading as="h1" fontSize="xl" fontWeight="700" mb="2">
          Bring the tally back
        </Heading>
        <Text color="softInk" maxW="720px" mb="5">
          For when the database is lost. Beside the frames of every project lies its record: shots, versions,
          plans, runs, attempts, flags and notes as they were a second before. It is read, the folders are
          looked at, and nothing in them is changed.
        </Text>
        {last?.type === "rebuilt" && <WhatCame rebuilt={last.rebuilt} />}
        {isGoing && (
          <Flex gap="3" align="center" role="status" mb="5">
            <Spinner size="sm" color="petrol" />
            <Text className="figures" overflowWrap="anywhere" minW="0">
              {last?.type === "so-far" ? `${last.folder}: ${DOING[last.doing](last.done)}.` : "Reading."}
            </Text>
            <Button size="xs" variant="plain" onClick={stop}>
              Stop
            </Button>
          </Flex>
        )}
        {wrong !== null && <Refusal>{wrong}</Refusal>}
        <Heading as="h2" fontSize="md" mt="4" mb="1">
          Near the roots, and not in this tally
        </Heading>
        {listError !== null && <Refusal>{messageOf(listError)}</Refusal>}
        {data === undefined && listError === null && <Spinner size="sm" color="petrol" />}
        {data?.tallies.length === 0 && (
          <Text color="softInk">Every project that lies near a root of this machine is in the tally.</Text>
        )}
        <Box as="ul" listStyleType="none" maxW="1000px">
          {data?.tallies.map((tally) => (
            <LostTally
              key={tally.path}
              tally={tally}
              isBusy={isGoing}
              onRebuild={() => start({ root: tally.root, folder: tally.folder })}
            />
          ))}
        </Box>
        <Heading as="h2" fontSize="md" mt="8" mb="2">
          Another folder
        </Heading>
        <Flex
          as="form"
          gap="2"
          onSubmit={(event) => {
            event.preventDefault();
            if (path.trim() !== "" && !isGoing) start({ root: null, folder: path.trim() });
          }}
        >
          <Input
            size="xs"
            fontFamily="mono"
            bg="sheet"
            maxW="560px"
            aria-label="Path of a folder"
            placeholder="of a project, or with projects in it: /mnt/films"
            value={path}
            onChange={(event) => setPath(event.target.value)}
          />
          <Button type="submit" size="xs" variant="outline" disabled={path.trim() === "" || isGoing}>
            Bring back
          </Button>
        </Flex>
      </Box>
    </>
  );
}
