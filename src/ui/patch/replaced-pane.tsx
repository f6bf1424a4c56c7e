"use client";
/**
 * Frames that were made anew, to be accepted: each beside the picture that it replaced, until somebody has said that it
 * is good, or has taken it back.
 */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReplacedDecision } from "@/contract/replaced";
import type { AsideFilesView } from "@/contract/sequence-view";
import { FrameIndex } from "@/core/frames/frame-index";
import { has, intersection } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { unpackSet } from "@/core/tally/packed";
import { beforeUrl, messageOf, pictureUrl, post } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { Caption } from "../page/bench";
import { Refusal } from "../page/states";
import { StripPicture } from "../picture/strip-picture";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { frames } from "../words";

/** @param aside files that were replaced and are kept here, whole */
export function ReplacedPane({ aside }: { readonly aside: AsideFilesView }) {
  const { view, files } = useSequenceNow();
  const { look, setFocus } = useShotWork();
  const { focus, selection } = usePointed();
  const client = useQueryClient();
  const settle = useMutation({
    mutationFn: (body: { readonly decision: ReplacedDecision; readonly phrase: string }) =>
      post<{ frames: string }>(`/api/sequences/${view.id}/replaced`, body),
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.asides }),
  });
  const replaced = new FrameIndex(unpackSet(aside.frames));
  if (replaced.count === 0) return null;
  // What is looked at where it is one of them; else the first.
  const shown = focus !== null && has(replaced.set, focus) ? focus : replaced.frameAt(0)!;
  const at = replaced.positionOf(shown)!;
  const selected = intersection(selection.set, replaced.set);
  const several = selected.count > 1 ? selected : replaced.set;
  const word = selected.count > 1 ? "selected" : "all";
  const now = files.at(shown);
  const before = beforeUrl(view.id, shown, aside.names[at]!);
  const say = (decision: ReplacedDecision, phrase: string): void => settle.mutate({ decision, phrase });
  return (
    <Box mb="4" data-testid="replaced">
      <Flex justify="space-between" align="baseline">
        <Caption>{frames(replaced.count)} made anew, to be accepted</Caption>
        <Flex gap="3">
          <Button
            size="xs"
            variant="plain"
            disabled={at === 0}
            onClick={() => setFocus(replaced.frameAt(at - 1)!)}
          >
            Before it
          </Button>
          <Button
            size="xs"
            variant="plain"
            disabled={at === replaced.count - 1}
            onClick={() => setFocus(replaced.frameAt(at + 1)!)}
          >
            Next
          </Button>
        </Flex>
      </Flex>
      <Flex gap="2" mb="1.5">
        <StripPicture name={`${shown} before`} url={before} onClick={() => look(shown)} />
        {now === null ? (
          <Text color="softInk">There is no file of it now.</Text>
        ) : (
          <>
            <StripPicture
              name={`${shown} now`}
              url={pictureUrl(view.id, shown, now.content)}
              isMeant
              onClick={() => look(shown)}
            />
            <StripPicture
              name="what changed"
              url={pictureUrl(view.id, shown, now.content)}
              from={before}
              onClick={() => look(shown)}
            />
          </>
        )}
      </Flex>
      <Flex gap="3" rowGap="1" align="center" flexWrap="wrap">
        <Button size="xs" loading={settle.isPending} onClick={() => say("accept", String(shown))}>
          Accept {shown}
        </Button>
        <Button size="xs" variant="outline" onClick={() => say("undo", String(shown))}>
          Undo {shown}
        </Button>
        {several.count > 1 && (
          <>
            <Button size="xs" variant="plain" onClick={() => say("accept", formatPhrase(several))}>
              Accept {word} {several.count}
            </Button>
            <Button size="xs" variant="plain" onClick={() => say("undo", formatPhrase(several))}>
              Undo {word} {several.count}
            </Button>
          </>
        )}
      </Flex>
      <Text fontSize="xs" color="softInk" mt="1">
        Undo puts the file from before back, with what was said of it; done again, it brings the new one back.
      </Text>
      {settle.error !== null && <Refusal>{messageOf(settle.error)}</Refusal>}
    </Box>
  );
}
