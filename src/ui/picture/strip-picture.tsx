"use client";
/** A picture in a strip of few, as it is or what differs between two, with a place in it. A click looks at it large. */
import { Box, Image, Text } from "@chakra-ui/react";
import type { FindingPlace } from "@/contract/sequence-view";

/** Differences are made so many times brighter, or nobody would see them. */
const BRIGHTER = 4;
const HEIGHT = "76px";

export function StripPicture({
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
