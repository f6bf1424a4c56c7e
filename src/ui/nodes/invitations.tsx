"use client";
/** Machines that join over the network: who is invited, how one is, and how its key is taken away. */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { InvitationView, InvitedView, InviteBody } from "@/contract/invitation-view";
import { isMachineName } from "@/core/naming/name";
import { messageOf, post, remove } from "../live/api";
import { useInvitations } from "../live/queries";
import { queryKeys } from "../live/query-keys";
import { Copy } from "../page/copy";
import { TextLine } from "../page/field";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { Tip } from "../theme/tip";
import { INVITATION_TEXT, invitationText } from "./words";

export function Invitations() {
  const { data, error } = useInvitations();
  return (
    <Box as="section" mt="8" maxW="900px" aria-labelledby="joining" data-testid="invitations">
      <Heading as="h2" id="joining" fontSize="lg" mb="1">
        Machines that join over the network
      </Heading>
      {data === undefined ? (
        error === null ? null : (
          <Refusal>{messageOf(error)}</Refusal>
        )
      ) : (
        <>
          <Text color="softInk" mb="2">
            {data.listens === null ? INVITATION_TEXT.nothingListens : INVITATION_TEXT.listens(data.listens)}
          </Text>
          {data.invitations.map((invitation) => (
            <InvitationLine key={invitation.name} invitation={invitation} />
          ))}
          {data.listens !== null && (
            <InviteForm
              roots={data.roots}
              invited={data.invitations.filter(({ state }) => state !== "revoked").map(({ name }) => name)}
            />
          )}
        </>
      )}
    </Box>
  );
}

function InvitationLine({ invitation }: { readonly invitation: InvitationView }) {
  const { name, state } = invitation;
  const now = useNow();
  const client = useQueryClient();
  const [isAsking, setAsking] = useState(false);
  const revoke = useMutation({
    mutationFn: () => remove(`/api/nodes/invitations/${encodeURIComponent(name)}`),
    onSuccess: () => setAsking(false),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.nodes }),
  });
  return (
    <Flex
      gap="4"
      align="center"
      flexWrap="wrap"
      minH="9"
      borderTopWidth="1px"
      borderColor="rule"
      data-testid="invitation"
      data-node={name}
    >
      <Text fontFamily="mono" fontWeight="700" minW="120px">
        {name}
      </Text>
      <Text color={state === "revoked" ? "softInk" : "ink"}>
        {now === null ? "" : invitationText(invitation, now)}
      </Text>
      <Flex ml="auto" gap="3" align="center">
        {state !== "revoked" &&
          (isAsking ? (
            <>
              <Text>It ends at once, and its frames go to others.</Text>
              <Button size="xs" loading={revoke.isPending} onClick={() => revoke.mutate()}>
                Take its key away
              </Button>
              <Button size="xs" variant="plain" onClick={() => setAsking(false)}>
                Leave it
              </Button>
            </>
          ) : (
            <Tip text="Its machine cannot come in with it any more">
              <Button size="xs" variant="plain" onClick={() => setAsking(true)}>
                Revoke its key…
              </Button>
            </Tip>
          ))}
      </Flex>
      {revoke.error !== null && <Refusal>{messageOf(revoke.error)}</Refusal>}
    </Flex>
  );
}

/** The line is told once: it holds the key, and nobody can read it again. */
function InviteForm({
  roots,
  invited,
}: {
  readonly roots: Readonly<Record<string, string>>;
  /** Whose keys are good. */
  readonly invited: readonly string[];
}) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [folders, setFolders] = useState<Readonly<Record<string, string>>>({});
  const invite = useMutation({
    mutationFn: (body: InviteBody) => post<InvitedView>("/api/nodes/invitations", body),
    onSuccess: () => {
      // Its name is known now, and another click would turn out whoever joins by the line below.
      setName("");
      void client.invalidateQueries({ queryKey: queryKeys.nodes });
    },
  });
  const isWrong = name !== "" && !isMachineName(name);
  const wrongFolder = Object.values(folders).some((folder) => folder !== "" && !folder.startsWith("/"));
  const isAgain = invited.includes(name);
  const shared = Object.fromEntries(Object.entries(folders).filter(([, folder]) => folder !== ""));
  return (
    <Box mt="3" pt="3" borderTopWidth="1px" borderColor="rule">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name !== "" && !isWrong && !wrongFolder)
            invite.mutate({ name, roots: shared, address: null, again: isAgain });
        }}
      >
        <Flex gap="4" align="flex-end" flexWrap="wrap">
          <Box w="180px">
            <TextLine
              label="Node of another machine"
              isMono
              value={name}
              onChange={setName}
              placeholder="mole-2"
              fault={isWrong ? INVITATION_TEXT.nameWrong : undefined}
            />
          </Box>
          {Object.entries(roots).map(([root, folder]) => (
            <Box key={root} w="240px">
              <TextLine
                label={`${root} lies there at`}
                isMono
                value={folders[root] ?? ""}
                onChange={(value) => setFolders((all) => ({ ...all, [root]: value }))}
                placeholder={folder}
                fault={
                  (folders[root] ?? "") !== "" && !folders[root]!.startsWith("/")
                    ? INVITATION_TEXT.folderWrong
                    : undefined
                }
              />
            </Box>
          ))}
          <Button
            type="submit"
            size="xs"
            disabled={name === "" || isWrong || wrongFolder}
            loading={invite.isPending}
          >
            {isAgain ? "Invite again, with another key" : "Invite"}
          </Button>
        </Flex>
        <Text color="softInk" fontSize="xs" mt="1">
          {isAgain ? INVITATION_TEXT.again(name) : INVITATION_TEXT.rootsHint}
        </Text>
        {invite.error !== null && <Refusal>{messageOf(invite.error)}</Refusal>}
      </form>
      {invite.data !== undefined && (
        <Box mt="3" role="status" data-testid="invitation-line">
          <Flex gap="3" align="center">
            <Text>{INVITATION_TEXT.runThere(invite.variables.name)}</Text>
            <Copy text={invite.data.line} what="the line for the other machine" />
          </Flex>
          <Box
            mt="1"
            p="2"
            bg="sheet"
            borderWidth="1px"
            borderColor="rule"
            fontFamily="mono"
            fontSize="xs"
            overflowWrap="anywhere"
            maxH="120px"
            overflowY="auto"
            tabIndex={0}
          >
            {invite.data.line}
          </Box>
        </Box>
      )}
    </Box>
  );
}
