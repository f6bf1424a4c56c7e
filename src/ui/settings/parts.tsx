"use client";
/** What the parts of the settings page are built of. */
import { Box, Heading, Table, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A ruled part of the page, with what it is about. */
export function Part({
  title,
  about,
  children,
}: {
  readonly title: string;
  readonly about: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <Box as="section" aria-label={title} mt="7">
      <Heading as="h2" fontSize="md" fontWeight="700">
        {title}
      </Heading>
      <Text color="softInk" mb="2">
        {about}
      </Text>
      {children}
    </Box>
  );
}

/** One cell that stands at the top of its line. */
export function Cell({
  children,
  isMono = false,
}: {
  readonly children: ReactNode;
  readonly isMono?: boolean;
}) {
  return (
    <Table.Cell
      verticalAlign="top"
      ps="0"
      pe="4"
      overflowWrap="anywhere"
      {...(isMono ? { fontFamily: "mono", fontSize: "xs", pt: "2.5" } : {})}
    >
      {children}
    </Table.Cell>
  );
}

/** Names of columns, each with its share of the width. */
export function Heads({ names }: { readonly names: readonly (readonly [name: string, width: string])[] }) {
  return (
    <Table.Header>
      <Table.Row bg="transparent">
        {names.map(([name, width]) => (
          <Table.ColumnHeader key={name} w={width} ps="0" color="softInk" fontWeight="400">
            {name}
          </Table.ColumnHeader>
        ))}
      </Table.Row>
    </Table.Header>
  );
}
