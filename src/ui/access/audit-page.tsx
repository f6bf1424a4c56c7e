"use client";
/** What was asked for, by whom, and what came of it: the newest first, and all of it as a file. */
import { Box, Button, Flex, Heading, Input, Table, Text } from "@chakra-ui/react";
import { useInfiniteQuery } from "@tanstack/react-query";
import NextLink from "next/link";
import { useState } from "react";
import type { AuditLine, AuditView } from "@/contract/people";
import { ROLE_WORD } from "@/core/access/roles";
import { get, messageOf } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Header, useNow } from "../page/header";
import { Empty, Loading, Refusal, Trouble } from "../page/states";
import { clock } from "../words";
import { ACCESS_TEXT, didText, placeText, statusText } from "./words";

export function AuditPage() {
  const [search, setSearch] = useState("");
  const found = useInfiniteQuery({
    queryKey: queryKeys.audit,
    queryFn: ({ pageParam, signal }) =>
      get<AuditView>(`/api/audit${pageParam === null ? "" : `?before=${pageParam}`}`, signal),
    initialPageParam: null as number | null,
    getNextPageParam: (page: AuditView) => (page.hasMore ? (page.lines.at(-1)?.id ?? null) : null),
  });
  const lines = found.data?.pages.flatMap((page) => page.lines);
  const wanted = search.trim().toLowerCase();
  const shown = lines?.filter((line) =>
    `${line.who ?? ""} ${didText(line)} ${line.what} ${statusText(line)}`.toLowerCase().includes(wanted),
  );
  return (
    <Flex direction="column" minH="100vh">
      <Header project={null} />
      <Box as="main" px="6" py="4">
        {found.error !== null && lines === undefined ? (
          <Trouble title="The audit cannot be read now" message={messageOf(found.error)} />
        ) : shown === undefined || lines === undefined ? (
          <Loading what="what was done" />
        ) : lines.length === 0 ? (
          <Empty title="Nothing was done yet">
            Here stands who signed in, and what was started, stopped, flagged and changed, with what came of
            it.
          </Empty>
        ) : (
          <>
            <Flex align="center" gap="6" mb="3" flexWrap="wrap">
              <Heading as="h1" fontSize="xl">
                What was done
              </Heading>
              <Input
                size="xs"
                w="240px"
                bg="sheet"
                placeholder="a name, a deed, a shot"
                aria-label="Only lines with"
                value={search}
                onChange={(event) => setSearch(event.target.value)}
              />
              <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
                <a href="/api/audit?as=csv" download>
                  All of it as CSV
                </a>
              </Box>
              <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
                <NextLink href="/people">People</NextLink>
              </Box>
            </Flex>
            <Table.Root size="sm" variant="line">
              <Table.Header>
                <Table.Row bg="transparent">
                  {["When", "Who", "Did", "Where", "Came of it"].map((head) => (
                    <Table.ColumnHeader key={head} color="softInk" fontWeight="400">
                      {head}
                    </Table.ColumnHeader>
                  ))}
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {shown.map((line) => (
                  <AuditRow key={line.id} line={line} />
                ))}
              </Table.Body>
            </Table.Root>
            {shown.length === 0 && <Text mt="3">None of these lines has “{search.trim()}” in it.</Text>}
            <Flex mt="3" gap="4" align="center">
              {found.hasNextPage && (
                <Button
                  size="xs"
                  variant="outline"
                  loading={found.isFetchingNextPage}
                  onClick={() => void found.fetchNextPage()}
                >
                  Older ones
                </Button>
              )}
              {lines.some((line) => line.role === null && line.who !== null) && (
                <Text color="softInk" fontSize="xs">
                  {ACCESS_TEXT.given}
                </Text>
              )}
            </Flex>
            {found.error !== null && <Refusal>{messageOf(found.error)}</Refusal>}
          </>
        )}
      </Box>
    </Flex>
  );
}

function AuditRow({ line }: { readonly line: AuditLine }) {
  const now = useNow();
  const isBad = line.status === null || line.status >= 400;
  return (
    <Table.Row bg="transparent" data-testid="audit-line">
      <Table.Cell className="figures" whiteSpace="nowrap">
        {now === null ? "" : clock(line.at, now)}
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap">
        {line.who ?? "nobody said"}
        {line.role !== null && (
          <Box as="span" color="softInk">
            {" "}
            may {ROLE_WORD[line.role]}
          </Box>
        )}
      </Table.Cell>
      <Table.Cell>{didText(line)}</Table.Cell>
      <Table.Cell fontFamily="mono" fontSize="xs" color="softInk" overflowWrap="anywhere">
        {placeText(line)}
      </Table.Cell>
      <Table.Cell whiteSpace="nowrap" color={isBad ? "brick" : "ink"}>
        {statusText(line)}
      </Table.Cell>
    </Table.Row>
  );
}
