"use client";
/** The sound of the shot: chosen from the project or brought, moved, replaced, taken away. It is the shot's, not the plan's. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { ChangeShotBody } from "@/contract/project-bodies";
import { isSoundFile, SOUND_ENDINGS, type ShotSound } from "@/core/sound/shot-sound";
import { Remark, Select } from "../fields/fields";
import { messageOf, nameOfShot, patch, shotApi } from "../live/api";
import { bringFiles } from "../live/bring-files";
import { useProjectFiles } from "../live/queries";
import { Refusal } from "../page/states";
import { useShotWork } from "../shot/shot-context";
import { useSound } from "../shot/use-sound";
import { duration, size } from "../words";

/** Where a sound comes to that is brought: beside the scenes. */
const SOUNDS = "sound";

/** Null where it is no number. */
const readOffset = (text: string): number | null =>
  /^\s*[+-]?(\d+([.,]\d*)?|[.,]\d+)\s*$/.test(text) ? Number(text.replace(",", ".")) : null;

export function SoundField() {
  const { shot, draft } = useShotWork();
  const client = useQueryClient();
  const heard = useSound(shot);
  const { sound } = shot;
  const [typed, setTyped] = useState<string | null>(null);
  const save = useMutation({
    mutationFn: (next: ShotSound | null) =>
      patch(shotApi(nameOfShot(shot)), { sound: next } satisfies ChangeShotBody),
    onSuccess: async () => {
      setTyped(null);
      await client.invalidateQueries();
    },
  });
  const offsetText = typed ?? String(sound?.offset ?? 0);
  const offset = readOffset(offsetText);
  // The frame of the plan on which the sound begins.
  const frame =
    offset === null
      ? null
      : Math.round(
          draft.plan.timeLine.first +
            draft.plan.offset +
            (offset * draft.plan.rate.numerator) / draft.plan.rate.denominator,
        );
  const take = (path: string): void => save.mutate({ path, offset: sound?.offset ?? 0 });
  const seconds =
    heard.state === "heard" ? (heard.samples.channels[0]?.length ?? 0) / heard.samples.sampleRate : null;
  return (
    <Box role="group" aria-label="Sound" data-testid="sound">
      {sound === null ? (
        <Flex gap="3" align="center" flexWrap="wrap">
          <Text fontSize="xs" color="softInk">
            No sound.
          </Text>
          <SoundChoice label="Choose a sound" onTake={take} />
        </Flex>
      ) : (
        <>
          <Flex gap="2" rowGap="1" align="center" flexWrap="wrap" fontSize="xs">
            <Text color="softInk">Sound</Text>
            <Text fontFamily="mono" overflowWrap="anywhere">
              {sound.path}
            </Text>
            <Text color={heard.state === "unheard" ? "brick" : "softInk"} className="figures">
              {heard.state === "unheard" ? heard.why : seconds === null ? "is being read" : duration(seconds)}
            </Text>
          </Flex>
          <Flex gap="2" rowGap="1" align="center" flexWrap="wrap">
            <Text fontSize="xs" color="softInk">
              begins
            </Text>
            <Input
              size="xs"
              w="76px"
              fontFamily="mono"
              bg="paper"
              aria-label="Seconds from the beginning of the shot to that of its sound"
              aria-invalid={offset === null}
              {...(offset === null ? { borderColor: "brick" } : {})}
              value={offsetText}
              onChange={(event) => setTyped(event.target.value)}
            />
            <Text fontSize="xs" color="softInk" className="figures">
              {offset === null ? "seconds, such as 0.5 or -2" : `s after the time line, on frame ${frame}`}
            </Text>
            {typed !== null && offset !== null && offset !== sound.offset && (
              <Button
                size="xs"
                variant="outline"
                loading={save.isPending}
                onClick={() => save.mutate({ path: sound.path, offset })}
              >
                Move it there
              </Button>
            )}
            <SoundChoice label="Choose another sound" onTake={take} />
            <Button size="xs" variant="plain" loading={save.isPending} onClick={() => save.mutate(null)}>
              Take it away
            </Button>
          </Flex>
        </>
      )}
      {save.error !== null && <Refusal>{messageOf(save.error)}</Refusal>}
    </Box>
  );
}

/** One of the project's files, or one from elsewhere. */
function SoundChoice({ label, onTake }: { readonly label: string; readonly onTake: (path: string) => void }) {
  const { shot } = useShotWork();
  const client = useQueryClient();
  const { slug } = shot.project;
  const there = (useProjectFiles(slug).data?.files ?? []).filter(isSoundFile);
  const [bytes, setBytes] = useState(0);
  const [asks, setAsks] = useState<File | null>(null);
  const stop = useRef<AbortController | null>(null);
  const bring = useMutation({
    mutationFn: async ({ file, replaces }: { readonly file: File; readonly replaces: boolean }) => {
      if (!isSoundFile(file.name))
        throw new Error(`A sound ends in ${SOUND_ENDINGS.map((e) => `.${e}`).join(", ")}.`);
      stop.current = new AbortController();
      setBytes(0);
      const to = `${SOUNDS}/${file.name}`;
      return bringFiles(slug, [{ to, file }], replaces, setBytes, stop.current.signal);
    },
    onSuccess: async ({ paths, there: known }, { file }) => {
      await client.invalidateQueries({ queryKey: ["project-files", slug] });
      if (paths[0] !== undefined) onTake(paths[0]);
      setAsks(known.length > 0 ? file : null);
    },
  });
  return (
    <>
      {there.length > 0 && (
        <Box w="200px">
          <Select
            label={`${label} of the project`}
            value=""
            options={[["", "one of the project"], ...there.map((path) => [path, path] as const)]}
            onChange={(path) => path !== "" && onTake(path)}
          />
        </Box>
      )}
      <Button
        asChild
        size="xs"
        variant="plain"
        _focusWithin={{ outline: "2px solid", outlineColor: "petrol" }}
      >
        <label>
          {label}…
          <Box asChild position="absolute" w="1px" h="1px" overflow="hidden" clipPath="inset(50%)">
            <input
              type="file"
              aria-label={label}
              accept={SOUND_ENDINGS.map((ending) => `.${ending}`).join(",")}
              onChange={(event) => {
                const [file] = event.target.files ?? [];
                if (file !== undefined) bring.mutate({ file, replaces: false });
                // The same file again is a choice, too.
                event.target.value = "";
              }}
            />
          </Box>
        </label>
      </Button>
      {bring.isPending && (
        <Flex gap="2" align="center" role="status">
          <Text fontSize="xs" className="figures">
            {size(bytes)} of {size(bring.variables.file.size)}
          </Text>
          <Button size="xs" variant="plain" onClick={() => stop.current?.abort()}>
            Leave it
          </Button>
        </Flex>
      )}
      {asks !== null && (
        <Flex gap="2" align="center" role="alert" w="full">
          <Text fontSize="xs" color="ochre">
            The project has a {asks.name} already.
          </Text>
          <Button
            size="xs"
            variant="plain"
            onClick={() => {
              onTake(`scenes/${SOUNDS}/${asks.name}`);
              setAsks(null);
            }}
          >
            Use that one
          </Button>
          <Button size="xs" variant="plain" onClick={() => bring.mutate({ file: asks, replaces: true })}>
            Replace it
          </Button>
        </Flex>
      )}
      {bring.error !== null && !(bring.error instanceof DOMException) && (
        <Refusal>{messageOf(bring.error)}</Refusal>
      )}
      {there.length === 0 && (
        <Remark>WAV, FLAC, MP3 and others; it comes to scenes/{SOUNDS} of the project.</Remark>
      )}
    </>
  );
}
