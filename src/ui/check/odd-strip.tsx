"use client";
/** A frame between its neighbours, and what differs from the one before: what is odd is seen beside what is not. */
import { Box, Flex, Image, Text } from "@chakra-ui/react";
import type { FindingPlace } from "@/contract/sequence-view";
import type { FrameIndex } from "@/core/frames/frame-index";
import { pictureUrl } from "../live/api";
import { useSequenceNow, useShotWork } from "../shot/shot-context";

/** Of white: differences are made so many times brighter, or nobody would see them. */
const BRIGHTER = 4;
const HEIGHT = "76px";

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
      {before !== null && <Picture name={String(before)} url={url(before)} onClick={() => look(before)} />}
      <Picture name={String(frame)} url={url(frame)} place={place} isMeant onClick={() => look(frame)} />
      {behind !== null && <Picture name={String(behind)} url={url(behind)} onClick={() => look(behind)} />}
      {before !== null && (
        <Picture
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

function Picture({
  name,
  url,
  from,
  place = null,
  isMeant = false,
  onClick,
}: {
  readonly name: string;
  readonly url: string;
  /** What it is taken away from; left out: it is shown as it is. */
  readonly from?: string;
  readonly place?: FindingPlace | null;
  /** The one that is judged. */
  readonly isMeant?: boolean;
  readonly onClick: () => void;
}) {
  const percent = (share: number): string => `${share * 100}%`;
  return (
    <Box minW="0" flex="0 1 auto">
      <Box
        asChild
        display="block"
        bg="surround"
        p="3px"
        cursor="pointer"
        outlineWidth={isMeant ? "2px" : "0"}
        outlineStyle="solid"
        outlineColor="petrol"
      >
        <button type="button" aria-label={`Look: ${name}`} onClick={onClick}>
          <Box position="relative">
            <Box position="relative" {...(from === undefined ? {} : { filter: `brightness(${BRIGHTER})` })}>
              <Image src={url} alt="" display="block" maxH={HEIGHT} maxW="full" />
              {from !== undefined && (
                <Image
                  src={from}
                  alt=""
                  position="absolute"
                  inset="0"
                  w="full"
                  h="full"
                  mixBlendMode="difference"
                />
              )}
            </Box>
            {place !== null && (
              <Box
                position="absolute"
                left={percent(place.left)}
                top={percent(place.top)}
                width={percent(place.width)}
                height={percent(place.height)}
                borderWidth="2px"
                borderColor="ochre"
                data-testid="odd-place"
              />
            )}
          </Box>
        </button>
      </Box>
      <Text fontSize="xs" color={isMeant ? "ink" : "softInk"} fontFamily="mono" truncate>
        {name}
      </Text>
    </Box>
  );
}
