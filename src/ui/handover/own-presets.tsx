"use client";
/** Settings of movies under names of one's own, for everybody in the house. */
import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { MoviePresetView } from "@/contract/handover";
import type { MovieSettings } from "@/core/handover/wish";
import { messageOf, post, remove } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Refusal } from "../page/states";

/** @param chosen the one whose settings these are; null: none */
export function KeepPreset({
  movie,
  chosen,
}: {
  readonly movie: MovieSettings;
  readonly chosen: MoviePresetView | null;
}) {
  const client = useQueryClient();
  const onSettled = (): Promise<void> => client.invalidateQueries({ queryKey: queryKeys.moviePresets });
  const [name, setName] = useState("");
  const keep = useMutation({
    mutationFn: () => post("/api/movie-presets", { name, movie }),
    onSuccess: () => setName(""),
    onSettled,
  });
  const forget = useMutation({ mutationFn: (id: number) => remove(`/api/movie-presets/${id}`), onSettled });
  const error = keep.error ?? forget.error;
  return (
    <>
      <Flex gap="2" align="center" flexWrap="wrap" mb="1">
        <Text flexShrink={0}>Keep these settings as</Text>
        <Input
          size="xs"
          w="180px"
          bg="paper"
          aria-label="Name of the preset"
          placeholder="for the client"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button
          size="xs"
          variant="outline"
          disabled={name.trim() === ""}
          loading={keep.isPending}
          onClick={() => keep.mutate()}
        >
          Keep
        </Button>
        {chosen !== null && (
          <Button size="xs" variant="plain" onClick={() => forget.mutate(chosen.id)}>
            Forget {chosen.name}
          </Button>
        )}
      </Flex>
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
    </>
  );
}
