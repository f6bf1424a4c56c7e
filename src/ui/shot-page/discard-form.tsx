"use client";
/** Discarding saved samples, and files that the plan does not ask for, with what they weigh. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Discard, type DiscardBody, DISCARDS, type DiscardedView } from "@/contract/discards";
import { shorten } from "@/core/frames/phrase";
import { Select } from "../fields/fields";
import { messageOf, post } from "../live/api";
import { useNow } from "../page/header";
import { Refusal } from "../page/states";
import { useSequenceNow, useShotWork } from "../shot/shot-context";
import { count, deedText, frames, size } from "../words";

/** What they are, by number. */
const FILES_TEXT: Readonly<Record<Discard, (n: number) => string>> = {
  samples: (n) => `saved samples of ${frames(n)}`,
  extra: (n) => `${count(n)} ${n === 1 ? "file" : "files"} that the plan does not ask for`,
};

const NONE_TEXT: Readonly<Record<Discard, string>> = {
  samples: "No samples are saved, but of frames in work.",
  extra: "No file is there that the plan does not ask for.",
};

/** Of which frames: what was selected when it was opened, or everything. */
type Of = "selection" | "sequence" | "version";

/**
 * Each is counted by the server before anything can be clicked; what is in work is not among it.
 * @param phrase the selection when it was opened; null: nothing was selected
 */
export function DiscardForm({
  phrase,
  onDone,
}: {
  readonly phrase: string | null;
  readonly onDone: () => void;
}) {
  const { shot } = useShotWork();
  const { view } = useSequenceNow();
  const client = useQueryClient();
  const now = useNow();
  const last = shot.versions.find((v) => v.id === shot.versionId)?.discarded ?? null;
  const [of, setOf] = useState<Of>(phrase === null ? "sequence" : "selection");
  const body = (what: readonly Discard[], isDry: boolean): DiscardBody => ({
    what,
    phrase: of === "selection" ? phrase : null,
    scope: of === "version" ? "version" : "sequence",
    isDry,
  });
  const api = `/api/sequences/${view.id}/discards`;
  const queryKey = ["discards", view.id, of, phrase];
  const found = useQuery({
    queryKey,
    queryFn: () => post<DiscardedView>(api, body(DISCARDS, true)),
    staleTime: 0,
  });
  const discard = useMutation({
    mutationFn: (what: Discard) => post<DiscardedView>(api, body([what], false)),
    onSuccess: () => client.invalidateQueries({ queryKey }),
  });
  return (
    <Box mt="2" role="group" aria-label="Discard" data-testid="discard">
      <Flex gap="3" align="center" mb="1.5">
        <Text>Discard</Text>
        <Box w="300px">
          <Select<Of>
            label="Of which frames"
            value={of}
            options={[
              ...(phrase === null ? [] : [["selection", `of frames ${shorten(phrase)}`] as const]),
              ["sequence", `of ${shot.sequence.camera} ${shot.sequence.pass}`],
              ["version", "of the whole version"],
            ]}
            onChange={(next) => {
              discard.reset();
              setOf(next);
            }}
          />
        </Box>
        <Button size="xs" variant="plain" onClick={onDone}>
          Close
        </Button>
      </Flex>
      {found.data === undefined && found.error === null && (
        <Text color="softInk" role="status">
          Counting files.
        </Text>
      )}
      {found.data !== undefined &&
        DISCARDS.map((what) => {
          const { count: n, bytes, frames: phraseOf } = found.data[what];
          return (
            <Flex key={what} gap="3" align="center" mb="1">
              {n === 0 ? (
                <Text color="softInk">{NONE_TEXT[what]}</Text>
              ) : (
                <>
                  <Button
                    size="xs"
                    variant="outline"
                    loading={discard.isPending && discard.variables === what}
                    onClick={() => discard.mutate(what)}
                  >
                    Discard {FILES_TEXT[what](n)}, {size(bytes)}
                  </Button>
                  <Text fontFamily="mono" fontSize="xs" color="softInk" truncate title={phraseOf}>
                    {shorten(phraseOf)}
                  </Text>
                </>
              )}
            </Flex>
          );
        })}
      {found.data !== undefined && found.data.samples.count + found.data.extra.count > 0 && (
        <Text fontSize="xs" color="softInk">
          They are removed from the disk at once. A frame without its samples starts over; pictures that the
          plan asks for are never discarded here.
        </Text>
      )}
      {last !== null && now !== null && !discard.isSuccess && (
        <Text fontSize="xs" color="softInk">
          Files of {shot.versions.find((v) => v.id === shot.versionId)?.name} were last {deedText(last, now)}.
        </Text>
      )}
      {discard.isSuccess && (
        <Text role="status">
          {DISCARDS.filter((what) => discard.data[what].count > 0)
            .map(
              (what) =>
                `Discarded ${FILES_TEXT[what](discard.data[what].count)}, ${size(discard.data[what].bytes)}.`,
            )
            .join(" ") || "Nothing was left to discard."}
        </Text>
      )}
      {(found.error ?? discard.error) !== null && (
        <Refusal>{messageOf(found.error ?? discard.error)}</Refusal>
      )}
    </Box>
  );
}
