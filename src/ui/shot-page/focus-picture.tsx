"use client";
/**
 * The focused frame, small, at the right end of the band. A click looks at it large.
 * It stands at the band's right end because that is where the eye is: which frame is meant, and what it
 * looks like, at one look.
 */
import { Box, Flex, Image } from "@chakra-ui/react";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { lastOf } from "@/core/frames/frame-set";
import { pictureUrl } from "../live/api";
import { liveState, subscribeLive } from "../live/live-store";
import { Tip } from "../theme/tip";
import { useShotWork, useSequenceNow, usePointed } from "../shot/shot-context";
import { resultOf } from "../shot/result-of";
import { useSoFar } from "../shot/use-so-far";

/** A frame in work shows what there is so far of it. */
export function FocusPicture() {
  const { look } = useShotWork();
  const { view, tally, files } = useSequenceNow();
  const { focus: pointedAt } = usePointed();
  // Before anything is pointed at, the newest number that has a picture: one sees frames drop in.
  const focus = pointedAt ?? lastOf(files.index.set);
  const file = focus === null ? null : files.at(focus);
  const result = focus === null ? null : resultOf(tally, focus);
  const soFar = useSoFar(focus);
  // A picture that is not there yet is told in words; the next address tries again.
  const [failed, setFailed] = useState<string | null>(null);
  // And so does a folder that can be seen again.
  const hidden = useSyncExternalStore(
    subscribeLive,
    () => liveState().outOfSight.length,
    () => 0,
  );
  useEffect(() => setFailed(null), [hidden]);
  const isWhole = file !== null && file.content !== "" && result !== "missing";
  const address = isWhole ? pictureUrl(view.id, focus!, file.content) : soFar;
  // One that failed before the page came alive has told nobody.
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    if (image.current?.complete === true && image.current.naturalWidth === 0) setFailed(address);
  }, [address]);
  return (
    <Box w="112px" flexShrink={0} fontSize="xs" className="figures">
      <Tip text="Look at it large (V)">
        <Box
          asChild
          display="block"
          w="full"
          bg="surround"
          p="3px"
          cursor={focus === null ? "default" : "pointer"}
        >
          <button
            type="button"
            disabled={focus === null}
            aria-label="Look at the focused frame"
            onClick={() => focus !== null && look(focus)}
          >
            <Flex aspectRatio="16 / 9" align="center" justify="center" color="onSurround" overflow="hidden">
              {address !== null && address !== failed ? (
                <Image
                  ref={image}
                  src={address}
                  alt={isWhole ? `Frame ${focus}` : `Frame ${focus} so far`}
                  {...(isWhole ? {} : { "data-testid": "so-far" })}
                  w="full"
                  h="full"
                  objectFit="contain"
                  onError={() => setFailed(address)}
                />
              ) : focus === null ? (
                "no frame yet"
              ) : isWhole ? (
                "cannot be shown"
              ) : soFar !== null ? (
                "no picture yet"
              ) : (
                "no picture to show"
              )}
            </Flex>
          </button>
        </Box>
      </Tip>
    </Box>
  );
}
