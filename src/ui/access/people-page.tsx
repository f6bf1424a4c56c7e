"use client";
/** Who may sign in, and what each may do. Keys are told once, when they are made. */
import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import NextLink from "next/link";
import { useState } from "react";
import type { ChangePersonBody, NewPersonBody, PersonView, PersonWithKey } from "@/contract/people";
import { ROLE_WORD, ROLES, type Role } from "@/core/access/roles";
import { nameFault, LONGEST_PERSON } from "@/core/naming/name";
import { Select } from "../fields/fields";
import { messageOf, patch, post, remove } from "../live/api";
import { useMe, usePeople } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Copy } from "../page/copy";
import { TextLine } from "../page/field";
import { Header, useNow } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { clock } from "../words";
import { ACCESS_TEXT, ROLE_HINT } from "./words";

const ROLE_OPTIONS = ROLES.map((role) => [role, ROLE_WORD[role]] as const);

export function PeoplePage() {
  const { data, error } = usePeople();
  const me = useMe();
  const [told, setTold] = useState<PersonWithKey | null>(null);
  return (
    <Flex direction="column" minH="100vh">
      <Header project={null} />
      <Box as="main" px="6" py="4" maxW="900px">
        {error !== null && data === undefined ? (
          <Trouble title="Who may sign in cannot be read now" message={messageOf(error)} />
        ) : data === undefined ? (
          <Loading what="the people" />
        ) : (
          <>
            <Flex align="baseline" gap="6" mb="2">
              <Heading as="h1" fontSize="xl">
                People
              </Heading>
              <Box asChild color="petrol" textDecoration="underline" textUnderlineOffset="3px">
                <NextLink href="/audit">What was done, by whom</NextLink>
              </Box>
            </Flex>
            <Text color="softInk" mb="4">
              {me.data?.isLocked === false ? ACCESS_TEXT.alone : ACCESS_TEXT.lead}
            </Text>
            {data.people.length > 0 && (
              <Table.Root size="sm" variant="line">
                <Table.Header>
                  <Table.Row bg="transparent">
                    {["Name", "May", "Last here", ""].map((head) => (
                      <Table.ColumnHeader key={head} color="softInk" fontWeight="400">
                        {head}
                      </Table.ColumnHeader>
                    ))}
                  </Table.Row>
                </Table.Header>
                <Table.Body>
                  {data.people.map((person) => (
                    <PersonLine key={person.id} person={person} onKey={setTold} />
                  ))}
                </Table.Body>
              </Table.Root>
            )}
            {told !== null && <TellKey told={told} onDone={() => setTold(null)} />}
            <NewPerson onKey={setTold} />
          </>
        )}
      </Box>
    </Flex>
  );
}

/** Stays until it is put away: it cannot be read again. */
function TellKey({ told, onDone }: { readonly told: PersonWithKey; readonly onDone: () => void }) {
  return (
    <Box mt="4" p="3" bg="sheet" borderWidth="1px" borderColor="petrol" role="status" data-testid="told-key">
      <Text>{ACCESS_TEXT.toldOnce(told.name)}</Text>
      <Flex align="center" gap="3" mt="1">
        <Text fontFamily="mono" fontSize="md" fontWeight="700">
          {told.key}
        </Text>
        <Copy text={told.key} what={`the key of ${told.name}`} />
        <Button ml="auto" size="xs" variant="plain" onClick={onDone}>
          I have it
        </Button>
      </Flex>
    </Box>
  );
}

function PersonLine({
  person,
  onKey,
}: {
  readonly person: PersonView;
  readonly onKey: (told: PersonWithKey) => void;
}) {
  const now = useNow();
  const client = useQueryClient();
  const [asks, setAsks] = useState<"key" | "remove" | null>(null);
  const onSettled = (): Promise<void> => client.invalidateQueries({ queryKey: queryKeys.people });
  const change = useMutation({
    mutationFn: (body: ChangePersonBody) => patch<PersonWithKey | null>(`/api/people/${person.id}`, body),
    onSuccess: (told) => {
      setAsks(null);
      if (told !== null && "key" in told) onKey(told);
    },
    onSettled,
  });
  const go = useMutation({ mutationFn: () => remove(`/api/people/${person.id}`), onSettled });
  const error = change.error ?? go.error;
  return (
    <Table.Row bg="transparent" verticalAlign="top" data-testid="person" data-name={person.name}>
      <Table.Cell fontWeight="700">
        {person.name}
        {error !== null && <Refusal>{messageOf(error)}</Refusal>}
      </Table.Cell>
      <Table.Cell w="320px">
        <Box w="140px">
          <Select
            label={`What ${person.name} may do`}
            value={person.role}
            options={ROLE_OPTIONS}
            onChange={(role) => change.mutate({ role: role as Role })}
          />
        </Box>
        <Text color="softInk" fontSize="xs">
          {ROLE_HINT[person.role]}
        </Text>
      </Table.Cell>
      <Table.Cell className="figures" color="softInk" whiteSpace="nowrap">
        {now === null ? "" : person.seenAt === null ? "is not signed in" : clock(person.seenAt, now)}
      </Table.Cell>
      <Table.Cell textAlign="right" whiteSpace="nowrap">
        {asks === null ? (
          <>
            <Button size="xs" variant="plain" onClick={() => setAsks("key")}>
              Another key…
            </Button>
            <Button size="xs" variant="plain" onClick={() => setAsks("remove")}>
              Turn out…
            </Button>
          </>
        ) : (
          <Flex gap="3" justify="flex-end" align="center">
            <Text>What is signed in is out.</Text>
            <Button
              size="xs"
              loading={change.isPending || go.isPending}
              onClick={() => (asks === "key" ? change.mutate({ newKey: true }) : go.mutate())}
            >
              {asks === "key" ? "Make another key" : `Turn ${person.name} out`}
            </Button>
            <Button size="xs" variant="plain" onClick={() => setAsks(null)}>
              Leave it
            </Button>
          </Flex>
        )}
      </Table.Cell>
    </Table.Row>
  );
}

function NewPerson({ onKey }: { readonly onKey: (told: PersonWithKey) => void }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("run");
  const add = useMutation({
    mutationFn: (body: NewPersonBody) => post<PersonWithKey>("/api/people", body),
    onSuccess: (told) => {
      setName("");
      onKey(told);
      void client.invalidateQueries({ queryKey: queryKeys.people });
    },
  });
  const fault = name.trim() === "" ? null : nameFault(name.trim(), LONGEST_PERSON);
  return (
    <Box asChild mt="5" maxW="640px">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== "" && fault === null) add.mutate({ name: name.trim(), role });
        }}
      >
        <Flex gap="4" align="flex-end">
          <Box w="240px">
            <TextLine
              label="Somebody else"
              value={name}
              onChange={setName}
              placeholder="Mara Lind"
              fault={fault === null ? undefined : `The name ${fault}.`}
            />
          </Box>
          <Box w="140px">
            <Select
              label="What they may do"
              value={role}
              options={ROLE_OPTIONS}
              onChange={(value) => setRole(value as Role)}
            />
          </Box>
          <Button
            type="submit"
            size="xs"
            disabled={name.trim() === "" || fault !== null}
            loading={add.isPending}
          >
            Let them in
          </Button>
        </Flex>
        <Text color="softInk" fontSize="xs" mt="1">
          {ROLE_HINT[role]}
        </Text>
        {add.error !== null && <Refusal>{messageOf(add.error)}</Refusal>}
      </form>
    </Box>
  );
}
