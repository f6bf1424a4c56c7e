"use client";
/**
 * Which scene and which cameras, each camera with its picture at the first, middle and last frame.
 * The pictures tell a camera from another before its name does. They are small, quick ones by the server, of
 * the first, the middle and the last frame that is asked for.
 */
import { Box, Flex, Grid, Image, Input, Text } from "@chakra-ui/react";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { parsePhrase } from "@/core/frames/phrase";
import { isExternal, STAND_IN } from "@/core/plan/renderer";
import { forOffer, offerAmong } from "@/core/plan/renderer-offer";
import { sceneTime } from "@/core/plan/scene-time";
import { middleFrame } from "@/core/tally/names";
import { messageOf, thumbnailUrl, nameOfShot } from "../live/api";
import { useDescribedScene, useScene } from "../live/queries";
import { useShotWork } from "../shot/shot-context";
import { Entry, EntryGroup, Select, Toggle } from "../fields/fields";

/**
 * Cameras are those of the scene; of a renderer's own scene nobody here knows them, so they are typed. A
 * camera that the scene lost stays listed: it is in the plan.
 */
export function SceneGroup() {
  const {
    draft: { plan, offer, change },
    shot,
  } = useShotWork();
  const scene = useScene(nameOfShot(shot), isExternal(plan) ? "" : plan.scene);
  const described = useDescribedScene(shot.project.slug, plan.scene, plan.renderer);
  const told = described.data?.cameras ?? null;
  const known = scene.data?.cameras ?? told ?? [];
  const cameras = [...known, ...plan.cameras.filter((camera) => !known.includes(camera))];
  const scenes = shot.scenes.includes(plan.scene) ? shot.scenes : [plan.scene, ...shot.scenes];
  const asked = parsePhrase(plan.frames);
  const numbers =
    asked.ok && asked.set.count > 0 ? [firstOf(asked.set)!, middleFrame(asked.set)!, lastOf(asked.set)!] : [];
  const toggle = (camera: string, isOn: boolean): void =>
    change({ cameras: cameras.filter((c) => (c === camera ? isOn : plan.cameras.includes(c))) });
  return (
    <Flex direction="column" gap="2">
      <Entry
        field="scene"
        label="Scene file"
        hint={
          (scene.error ?? described.error) === null ? undefined : (
            <Box as="span" color="brick" role="alert">
              {messageOf(scene.error ?? described.error)}
            </Box>
          )
        }
      >
        <Select
          name="scene"
          value={plan.scene}
          options={scenes.map((s) => [s, s] as const)}
          onChange={(next) => change({ scene: next })}
        />
      </Entry>
      {shot.renderers.length > 1 && (
        <Entry
          field="renderer"
          label="Rendered by"
          hint={
            isExternal(plan)
              ? `A program of its own, called as the configuration file says.${offer.keepsState ? "" : " What a frame has when it is stopped is lost: it keeps nothing to go on from."}`
              : undefined
          }
        >
          <Select
            name="renderer"
            value={plan.renderer}
            options={[...new Set([plan.renderer, ...shot.renderers.map((r) => r.name)])].map(
              (r) => [r, r === STAND_IN ? "the stand-in renderer" : r] as const,
            )}
            onChange={(renderer) => change(forOffer(plan, offerAmong(shot.renderers, renderer)))}
          />
        </Entry>
      )}
      {isExternal(plan) && told === null ? (
        <Entry
          field="cameras"
          label="Cameras, with commas; each makes a sequence of its own"
          hint="Only the renderer knows which cameras the scene has: a wrong name shows with the first frame."
        >
          <Input
            size="xs"
            fontSize="sm"
            px="2"
            fontFamily="mono"
            bg="paper"
            autoComplete="off"
            name="cameras"
            value={plan.cameras.join(",")}
            onChange={(event) =>
              change({
                cameras: event.target.value
                  .split(",")
                  .map((name) => name.trim())
                  .filter((name, i, all) => i === all.length - 1 || name !== ""),
              })
            }
          />
        </Entry>
      ) : (
        <EntryGroup field="cameras" label="Cameras; each makes a sequence of its own">
          <Grid
            templateColumns={isExternal(plan) ? "max-content" : "max-content repeat(3, 1fr)"}
            gap="2"
            alignItems="center"
            w="full"
          >
            {!isExternal(plan) && <Box />}
            {(isExternal(plan) ? [] : ["first", "middle", "last"]).map((word, i) => (
              <Text key={word} fontSize="12px" color="softInk">
                {word}
                {numbers[i] === undefined ? "" : ` ${numbers[i]}`}
              </Text>
            ))}
            {cameras.map((camera) => (
              <Box key={camera} display="contents">
                <Toggle isOn={plan.cameras.includes(camera)} onChange={(isOn) => toggle(camera, isOn)}>
                  <Box as="span" fontFamily="mono">
                    {camera}
                  </Box>
                </Toggle>
                {(isExternal(plan) ? [] : [0, 1, 2]).map((i) => (
                  <Box key={i} bg="surround" aspectRatio="16 / 9" position="relative">
                    {scene.data !== undefined && numbers[i] !== undefined && known.includes(camera) && (
                      <Image
                        src={thumbnailUrl(nameOfShot(shot), {
                          scene: plan.scene,
                          version: scene.data.version,
                          camera,
                          time: sceneTime(plan, numbers[i]),
                        })}
                        alt={`${camera} camera at frame ${numbers[i]}`}
                        position="absolute"
                        inset="0"
                        w="full"
                        h="full"
                        objectFit="contain"
                      />
                    )}
                  </Box>
                ))}
              </Box>
            ))}
          </Grid>
        </EntryGroup>
      )}
    </Flex>
  );
}
