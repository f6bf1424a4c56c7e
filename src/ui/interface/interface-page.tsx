"use client";
/** What can be asked of the server by HTTP: the OpenAPI document, as a page. */
import { Box, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { OpenApi, OpenApiOperation } from "@/contract/openapi";
import { get, messageOf } from "../live/api";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";

/** Whom it is for, after "takes somebody who may". */
const NEEDS_TEXT: Readonly<Record<OpenApiOperation["x-needs"], string>> = {
  nobody: "open to everybody",
  look: "may look",
  mark: "may mark",
  run: "may run",
  "keep-house": "may keep house",
};

interface Listed {
  readonly method: string;
  readonly place: string;
  readonly operation: OpenApiOperation;
}

const listOf = ({ paths }: OpenApi): readonly Listed[] =>
  Object.entries(paths).flatMap(([place, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ method, place, operation })),
  );

export function InterfacePage() {
  const { data, error } = useQuery({
    queryKey: ["openapi"],
    queryFn: ({ signal }) => get<OpenApi>("/api/openapi", signal),
    staleTime: Infinity,
  });
  const [search, setSearch] = useState("");
  const wanted = search.trim().toLowerCase();
  const all = data === undefined ? [] : listOf(data);
  const shown = all.filter(({ method, place, operation }) =>
    `${method} ${place} ${operation.summary}`.toLowerCase().includes(wanted),
  );
  return (
    <Flex direction="column" minH="100vh">
      <Header project={null} />
      <Box as="main" px="6" py="4" maxW="1000px">
        {error !== null && data === undefined ? (
          <Trouble title="The description cannot be read now" message={messageOf(error)} />
        ) : data === undefined ? (
          <Loading what="the description" />
        ) : (
          <>
            <Flex align="center" gap="6" flexWrap="wrap">
              <Heading as="h1" fontSize="xl">
                For programs
              </Heading>
              <Input
                size="xs"
                w="240px"
                bg="sheet"
                placeholder="runs, flag, /frames/"
                aria-label="Only operations with"
                value={search}
                onChange={(event) => setSearch(event.target.value)}
              />
              <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
                <a href="/api/openapi">As OpenAPI 3.1</a>
              </Box>
            </Flex>
            <Text color="softInk" mt="2" mb="4" maxW="760px">
              What the pages ask for, programs may ask for, too, with JSON both ways. What is refused is
              answered with a code that stays, a sentence, and the fields that are wrong. Over the network a
              session is begun with name and key, and kept as a cookie.
            </Text>
            {shown.length === 0 && <Text>Nothing here has “{search.trim()}” in it.</Text>}
            {shown.map((one) => (
              <Operation key={`${one.method} ${one.place}`} {...one} />
            ))}
          </>
        )}
      </Box>
    </Flex>
  );
}

interface Parameter {
  readonly name: string;
  readonly in: string;
  readonly required: boolean;
  readonly description?: string;
}

function Operation({ method, place, operation }: Listed) {
  const body = operation.requestBody as
    { readonly content: { readonly "application/json": { readonly schema: unknown } } } | undefined;
  const query = (operation.parameters as readonly Parameter[]).filter((p) => p.in === "query");
  return (
    <Box borderTopWidth="1px" borderColor="rule" py="2" data-testid="operation">
      <Flex gap="4" align="baseline" flexWrap="wrap">
        <Text fontFamily="mono" fontWeight="700" w="64px">
          {method.toUpperCase()}
        </Text>
        <Text fontFamily="mono" overflowWrap="anywhere">
          {place}
        </Text>
        <Text ml="auto" color="softInk" fontSize="xs">
          {NEEDS_TEXT[operation["x-needs"]]}
        </Text>
      </Flex>
      <Box pl="80px">
        <Text>{operation.summary}</Text>
        {query.map(({ name, description }) => (
          <Text key={name} color="softInk" fontSize="xs">
            <code>?{name}=</code> {description}
          </Text>
        ))}
        {body !== undefined && (
          <Box asChild mt="1">
            <details>
              <Box asChild color="petrol" cursor="pointer" fontSize="xs">
                <summary>Its body, as a JSON schema</summary>
              </Box>
              <Box
                as="pre"
                tabIndex={0}
                mt="1"
                p="2"
                bg="sheet"
                borderWidth="1px"
                borderColor="rule"
                fontFamily="mono"
                fontSize="xs"
                maxH="320px"
                overflow="auto"
              >
                {JSON.stringify(body.content["application/json"].schema, null, 2)}
              </Box>
            </details>
          </Box>
        )}
      </Box>
    </Box>
  );
}
