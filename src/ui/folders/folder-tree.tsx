"use client";
/** The folders below a root, a level at a time with what lies in each, or those whose paths hold some words. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import type { FolderLine, FolderTreeView } from "@/contract/take-in";
import { Select } from "../fields/fields";
import { get, messageOf } from "../live/api";
import { Refusal } from "../page/states";
import { count } from "../words";

function useFolders(root: string | null, folder: string, find: string) {
  return useQuery({
    queryKey: ["folders", root, folder, find],
    queryFn: ({ signal }) =>
      get<FolderTreeView>(
        `/api/folders?${new URLSearchParams({ ...(root === null ? {} : { root }), folder, find })}`,
        signal,
      ),
    placeholderData: keepPreviousData,
  });
}

const holdsText = ({ pictures, folders }: FolderLine): string =>
  [
    ...(pictures === 0 ? [] : [count(pictures)]),
    ...(folders === 0 ? [] : [`${count(folders)} folder${folders === 1 ? "" : "s"}`]),
  ].join(" · ");

/** The way from the root, each step of which leads back to it. */
function Way({
  root,
  folder,
  onOpen,
}: {
  readonly root: string;
  readonly folder: string;
  readonly onOpen: (folder: string) => void;
}) {
  const steps = folder === "" ? [] : folder.split("/");
  return (
    <Flex wrap="wrap" fontFamily="mono" fontSize="xs" align="baseline">
      {[root, ...steps].map((step, i) => (
        <Flex key={i} align="baseline">
          {i > 0 && <Box px="0.5">/</Box>}
          <Button
            size="xs"
            variant="plain"
            px="0"
            fontFamily="mono"
            {...(i === steps.length ? { color: "ink", textDecoration: "none", fontWeight: "700" } : {})}
            onClick={() => onOpen(steps.slice(0, i).join("/"))}
          >
            {step}
          </Button>
        </Flex>
      ))}
    </Flex>
  );
}

/** What pointing at a folder does. */
export interface FolderTreeWords {
  /** Of the folder that is open. */
  readonly here: string;
  /** Of one below it, in one word and in full. */
  readonly short: string;
  readonly full: (name: string) => string;
}
const LOOK: FolderTreeWords = { here: "Look in here", short: "look", full: (name) => `Look in ${name}` };

/** @param props.onPoint somebody wants to see what is in a folder and below, or what `words` say */
export function FolderTree({
  onPoint,
  words = LOOK,
}: {
  readonly onPoint: (root: string, folder: string) => void;
  readonly words?: FolderTreeWords;
}) {
  const [root, setRoot] = useState<string | null>(null);
  const [folder, setFolder] = useState("");
  const [find, setFind] = useState("");
  const { data, error } = useFolders(root, folder, useDeferredValue(find));
  const open = (next: string): void => {
    setFind("");
    setFolder(next);
  };
  return (
    <Box as="section" aria-label="Folders">
      <Flex gap="2" mb="2">
        {data !== undefined && data.roots.length > 1 && (
          <Select
            label="Root"
            value={data.root}
            options={data.roots.map((name) => [name, name] as const)}
            onChange={(next) => {
              setRoot(next);
              open("");
            }}
          />
        )}
        <Input
          size="xs"
          bg="sheet"
          aria-label="Find a folder"
          placeholder="find below"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setFind("")}
        />
      </Flex>
      {data !== undefined && (
        <Flex justify="space-between" align="baseline" gap="2" mb="1">
          <Way root={data.root} folder={folder} onOpen={open} />
          <Button size="xs" variant="outline" flexShrink={0} onClick={() => onPoint(data.root, folder)}>
            {words.here}
          </Button>
        </Flex>
      )}
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      <Box as="ul" listStyleType="none" maxH="460px" overflowY="auto" aria-label="Folders below">
        {data?.lines.map((line) => (
          <Flex
            as="li"
            key={line.folder}
            gap="2"
            align="baseline"
            borderTopWidth="1px"
            borderColor="rule"
            py="0.5"
            data-testid="folder-line"
          >
            <Button
              size="xs"
              variant="plain"
              px="0"
              fontFamily="mono"
              flex="1"
              minW="0"
              justifyContent="flex-start"
              whiteSpace="normal"
              textAlign="left"
              overflowWrap="anywhere"
              onClick={() => (line.folders > 0 ? open(line.folder) : onPoint(data.root, line.folder))}
            >
              {line.name}
            </Button>
            <Text fontSize="xs" color="softInk" className="figures" flexShrink={0}>
              {holdsText(line)}
            </Text>
            {line.folders > 0 && (
              <Button
                size="xs"
                variant="plain"
                aria-label={words.full(line.name)}
                onClick={() => onPoint(data.root, line.folder)}
              >
                {words.short}
              </Button>
            )}
          </Flex>
        ))}
      </Box>
      {data !== undefined && data.lines.length === 0 && (
        <Text fontSize="sm" color="softInk">
          {find.trim() === "" ? "No folder lies in this one." : "No folder below is called so."}
        </Text>
      )}
      {data !== undefined && !data.isWhole && (
        <Text fontSize="xs" color="softInk" mt="1">
          There are more; write more of the name, or go further down first.
        </Text>
      )}
    </Box>
  );
}
