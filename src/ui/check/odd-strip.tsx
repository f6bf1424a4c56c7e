"use client";
/** A frame between its neighbours, and what differs from the one before: what is odd is seen beside what is not. */
import { Flex } from "@chakra-ui/react";
import type { FindingPlace } from "@/contract/sequence-view";
import type { FrameIndex } from "@/core/frames/frame-index";
import { pictureUrl } from "../live/api";
import { StripPicture } from "../picture/strip-picture";
import { useSequenceNow, useShotWork } from "../shot/shot-context";

/** The frames just before and behind one, of those that have a file. */
function besides(index: FrameIndex, frame: number): readonly [number | null, number | null] {
  const at = index.positionOf(frame);
  return at === null ? [null, null] : [index.frameAt(at - 1), index.frameAt(at + 1)];
}

export function OddStrip({ frame, place }: { readonly frame: number; readonly place: FindingPlace | null }) {
  const { files, view } = useSequenceNow();
  const { look } = useShotWork();
  const [before, behind] = besides(files.index, frame);
  const url = (of: number): string => pictureUrl(view.id, of, files.at(of)!.content);
  if (files.at(frame) === null) return null;
  return (
    <Flex gap="2" mb="2" data-testid="odd-strip">
      {before !== null && (
        <StripPicture name={String(before)} url={url(before)} onClick={() => look(before)} />
      )}
      <StripPicture name={String(frame)} url={url(frame)} place={place} isMeant onClick={() => look(frame)} />
      {behind !== null && (
        <StripPicture name={String(behind)} url={url(behind)} onClick={() => look(behind)} />
      )}
      {before !== null && (
        <StripPicture
          name="what changed"
          url={url(frame)}
          from={url(before)}
          place={place}
          onClick={() => look(frame)}
        />
      )}
    </Flex>
  );
}
