"use client";
/** What the edit shows of this shot, and the way to read one. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { difference, EMPTY, type FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { newlyUsed, USUAL_HANDLES, withHandles } from "@/core/edit/edit-use";
import type { ImportedEdit } from "@/contract/shot-view";
import { messageOf, post } from "../live/api";
import { Refusal } from "../page/states";
import { useShotWork, useSequenceNow } from "../shot/shot-context";
import { count } from "../words";
import { EntryGroup, NumberInput } from "../fields/fields";

/** What the edit shows of this shot; a list is read here for all shots of the project. */
export function EditUse({ write }: { readonly write: (frames: FrameSet) => void }) {
  const {
    shot,
    used,
    draft: { plan },
  } = useShotWork();
  const { tally } = useSequenceNow();
  const client = useQueryClient();
  const [handles, setHandles] = useState(USUAL_HANDLES);
  const read = useMutation({
    mutationFn: async (file: File) =>
      post<ImportedEdit>(`/api/projects/${encodeURIComponent(shot.project.slug)}/edits`, {
        name: file.name,
        text: await file.text(),
      }),
    // A list is of all shots of the project: whatever is shown may have changed.
    onSuccess: () => client.invalidateQueries(),
  });
  const fresh = shot.edit === null ? EMPTY : newlyUsed(shot.edit, plan);
  const missing = difference(fresh, tally.results.good);
  const fits = Number.isInteger(handles) && handles >= 0 && handles <= 10_000;
  return (
    <EntryGroup field="frames" label="What the edit uses">
      <Flex gap="3" rowGap="1" flexWrap="wrap" align="center">
        {shot.edit === null ? (
          <Text color="softInk" fontSize="xs">
            No edit has been read.
          </Text>
        ) : (
          <>
            <Text fontSize="xs">
              <b>{shot.edit.editName}</b>:{" "}
              {used === null || used.count === 0 ? "nothing of this shot" : <code>{formatPhrase(used)}</code>}
            </Text>
            {used !== null && used.count > 0 && (
              <Flex align="center" gap="1.5">
                <Button
                  size="xs"
                  variant="outline"
                  disabled={!fits}
                  onClick={() => write(withHandles(used, handles, plan))}
                >
                  Plan used +
                </Button>
                <Box w="60px">
                  <NumberInput
                    label="Handles around the edit"
                    step={1}
                    value={handles}
                    onChange={setHandles}
                  />
                </Box>
              </Flex>
            )}
          </>
        )}
        <Button asChild size="xs" variant="plain">
          <label>
            Read an edit (.edl, .otio)
            <input
              type="file"
              accept=".edl,.otio,.json,.txt"
              hidden
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = "";
                if (file !== undefined) read.mutate(file);
              }}
            />
          </label>
        </Button>
      </Flex>
      {fresh.count > 0 && (
        <Text color="ochre" fontSize="xs" role="status">
          New in this edit: {formatPhrase(fresh)}
          {missing.count === 0
            ? ", all there"
            : missing.count === fresh.count
              ? ", none of it there yet"
              : `; ${formatPhrase(missing)} not there yet`}
          .
        </Text>
      )}
      {read.data !== undefined && (
        <Text fontSize="xs" color="softInk" role="status">
          {count(read.data.matched)} {read.data.matched === 1 ? "clip" : "clips"} of {count(read.data.shots)}{" "}
          {read.data.shots === 1 ? "shot" : "shots"} found
          {read.data.unmatched.length > 0 ? `; no shot is called ${read.data.unmatched.join(", ")}` : ""}.
        </Text>
      )}
      {read.error !== null && <Refusal>{messageOf(read.error)}</Refusal>}
    </EntryGroup>
  );
}
