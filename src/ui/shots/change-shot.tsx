"use client";
/** What can be done with a shot in the ledger: another code, title or time line; a copy; put away; removed. */
import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { ChangeShotBody } from "@/contract/project-bodies";
import type { LeftOnDisk } from "@/contract/project-view";
import type { ShotLine } from "@/contract/shot-view";
import { ApiFailure, messageOf, patch, post, remove, shotApi } from "../live/api";
import { AskedAgain } from "../page/asked-again";
import { TextLine } from "../page/field";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { deedText } from "../words";
import { timeLineText } from "../shot/time-line-text";

const isWhole = (text: string): boolean => /^-?\d{1,9}$/.test(text.trim());

export function ChangeShot({
  project,
  shot,
  onDone,
}: {
  readonly project: string;
  readonly shot: ShotLine;
  readonly onDone: () => void;
}) {
  const client = useQueryClient();
  const now = useNow();
  const api = shotApi({ project, code: shot.code });
  const [code, setCode] = useState(shot.code);
  const [title, setTitle] = useState(shot.title);
  const [first, setFirst] = useState(String(shot.first));
  const [last, setLast] = useState(String(shot.last));
  const [isRemoving, setRemoving] = useState(false);
  const isTimeLine = isWhole(first) && isWhole(last);
  const after = async (): Promise<void> => {
    await client.invalidateQueries();
    onDone();
  };
  const save = useMutation({
    mutationFn: () =>
      patch(api, {
        code,
        title,
        firstFrame: Number(first),
        lastFrame: Number(last),
      } satisfies ChangeShotBody),
    onSuccess: after,
  });
  const copy = useMutation({ mutationFn: () => post(`${api}/copies`, { code }), onSuccess: after });
  const archive = useMutation({
    mutationFn: () => patch(api, { isArchived: true } satisfies ChangeShotBody),
    onSuccess: after,
  });
  const error = save.error ?? copy.error ?? archive.error;
  const faults: Readonly<Record<string, string>> =
    error instanceof ApiFailure ? Object.fromEntries(error.faults.map((f) => [f.field, f.message])) : {};
  const isRenamed = code !== shot.code;
  const change = isTimeLine ? timeLineText(shot, Number(first), Number(last)) : null;
  return (
    <Box as="section" aria-label={`Change of ${shot.code}`} pb="2">
      <Grid templateColumns="minmax(110px, 1fr) minmax(160px, 2fr) 100px 100px" gap="3" maxW="760px">
        <TextLine
          label="Code"
          isMono
          value={code}
          fault={faults.code}
          onChange={setCode}
          {...(isRenamed ? { hint: "Files keep the name they have; the next version takes this one." } : {})}
        />
        <TextLine label="Title" value={title} fault={faults.title} onChange={setTitle} />
        <TextLine
          label="First frame"
          isMono
          value={first}
          fault={isWhole(first) ? faults.firstFrame : "A whole number."}
          onChange={setFirst}
        />
        <TextLine
          label="Last frame"
          isMono
          value={last}
          fault={isWhole(last) ? faults.lastFrame : "A whole number."}
          onChange={setLast}
        />
      </Grid>
      {change !== null && (
        <Text color="ochre" fontSize="sm" mt="1">
          {change}
        </Text>
      )}
      <Flex gap="3" mt="2" align="center" flexWrap="wrap">
        <Button size="xs" disabled={!isTimeLine} loading={save.isPending} onClick={() => save.mutate()}>
          Save
        </Button>
        <Button
          size="xs"
          variant="plain"
          disabled={!isRenamed}
          loading={copy.isPending}
          onClick={() => copy.mutate()}
        >
          {isRenamed ? `Copy as ${code}` : "Copy (give it another code first)"}
        </Button>
        <Button size="xs" variant="plain" loading={archive.isPending} onClick={() => archive.mutate()}>
          Archive
        </Button>
        <Button size="xs" variant="plain" onClick={() => setRemoving(!isRemoving)}>
          Remove
        </Button>
        <Button size="xs" variant="plain" onClick={onDone}>
          Leave as it is
        </Button>
        {shot.deed !== null && now !== null && (
          <Text fontSize="xs" color="softInk" ms="auto">
            {deedText(shot.deed, now)}
          </Text>
        )}
      </Flex>
      {error !== null && Object.keys(faults).length === 0 && <Refusal>{messageOf(error)}</Refusal>}
      {isRemoving && (
        <AskedAgain
          action={`Remove ${shot.code}`}
          doIt={() => remove<LeftOnDisk>(api)}
          onKeep={() => setRemoving(false)}
        >
          {shot.code} goes from the tally with its versions, runs, checks and flags. Every file stays where it
          is.
        </AskedAgain>
      )}
    </Box>
  );
}
