"use client";
/**
 * The camera move as a rough moving picture, at its real speed, before anything is rendered.
 * The pictures are rendered by the server with few samples, each once: the address holds scene, camera,
 * move and moment, so that what was seen before is there at once.
 */
import { Box, Flex, Image, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { sceneTime } from "@/core/plan/scene-time";
import type { ReadPlan } from "@/core/plan/plan";
import { durationSeconds } from "@/core/timing/rate";
import { thumbnailUrl, nameOfShot } from "../live/api";
import { useScene } from "../live/queries";
import { useShotWork } from "../shot/shot-context";
import { useRoughPictures } from "./use-rough-pictures";
import { count, everyFrame } from "../words";

/** Pictures of the rough movie: enough to see how it moves, few enough to be there in seconds. */
const PICTURES = 24;

/**
 * A few small pictures by the server, shown at the time at which each belongs: the speed is right, the motion
 * is coarse.
 */
export function MovePlayer({ read: { plan, asked } }: { readonly read: ReadPlan }) {
  const { shot } = useShotWork();
  const scene = useScene(nameOfShot(shot), plan.scene);
  const [first, last] = [firstOf(asked)!, lastOf(asked)!];
  const span = last - first + 1;
  const pictures = Math.min(PICTURES, span);
  const camera = plan.cameras[0]!;
  const urls =
    scene.data === undefined
      ? []
      : Array.from({ length: pictures }, (_, i) => {
          // Between frames where there are more pictures than frames would give.
          const number = first + (i * span) / pictures;
          return thumbnailUrl(nameOfShot(shot), {
            scene: plan.scene,
            version: scene.data.version,
            camera,
            time: sceneTime(plan, number),
            move: { move: plan.move!, index: number - first, frames: span },
          });
        });
  const seconds = durationSeconds(span, plan.rate);
  const key = urls[0] ?? "";
  const [at, setAt] = useState(0);
  const { shown, refused } = useRoughPictures(urls);
  useEffect(() => {
    const timer = setInterval(() => setAt((now) => (now + 1) % pictures), (seconds * 1000) / pictures);
    return () => clearInterval(timer);
  }, [pictures, seconds, key]);
  const ready = shown.size;
  return (
    <Flex gap="3" mb="2" align="flex-end">
      <Box
        bg="surround"
        w="240px"
        aspectRatio="16 / 9"
        position="relative"
        flexShrink={0}
        role="img"
        aria-label="The move, roughly"
      >
        {urls.map((url, i) =>
          shown.has(url) ? (
            <Image
              key={url}
              src={shown.get(url)!}
              alt=""
              position="absolute"
              inset="0"
              w="full"
              h="full"
              objectFit="contain"
              visibility={i === at ? "visible" : "hidden"}
            />
          ) : null,
        )}
      </Box>
      <Text fontSize="xs" color="softInk" role="status">
        {ready < pictures
          ? `${count(ready)} of ${count(pictures)} rough pictures are there${refused > 0 ? `; ${count(refused)} cannot be made now` : ""}.`
          : `${everyFrame(Math.max(1, Math.round(span / pictures)))}, at its real speed.`}
      </Text>
    </Flex>
  );
}
