"use client";
/** A renderer is tried before a night depends on it: one frame of a scene on a chosen node, with its log. */
import { Box, Button, Flex, Image, NativeSelect, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { STAND_IN } from "@/core/plan/renderer";
import type { StartedTry, TryBody, TryView } from "@/contract/settings-view";
import { ApiFailure, get, messageOf, post } from "../live/api";
import { useDescribedScene, useProjectFiles, useProjects } from "../live/queries";
import { Labelled, TextLine } from "../page/field";
import { Refusal } from "../page/states";
import { duration } from "../words";

/** Between two questions whether it is there. */
const LOOK_MS = 700;
/** Endings of files that are no scene, whatever renders it. */
const NO_SCENE = /\.(png|jpe?g|tiff?|exr|hdr|wav|mp3|csv|edl|otio|md|txt)$/i;

function Choice({
  width,
  label,
  value,
  options,
  onChange,
}: {
  readonly width: string;
  readonly label: string;
  readonly value: string;
  readonly options: readonly string[];
  readonly onChange: (value: string) => void;
}) {
  return (
    <Box w={width}>
      <Labelled label={label}>
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            aria-label={label}
            bg="sheet"
            fontSize="sm"
            value={value}
            onChange={(event) => onChange(event.target.value)}
          >
            {options.map((option) => (
              <option key={option} value={option}>
                {option}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Labelled>
    </Box>
  );
}

/** What came of a try, or that it goes on. */
function Outcome({ id }: { readonly id: number }) {
  const { data, error } = useQuery({
    queryKey: ["try", id],
    queryFn: ({ signal }) => get<TryView>(`/api/settings/tries/${id}`, signal),
    refetchInterval: (query) => (query.state.data?.answer == null ? LOOK_MS : false),
  });
  if (error !== null) return <Refusal>{messageOf(error)}</Refusal>;
  if (data?.answer == null)
    return (
      <Text mt="2" color="softInk" role="status">
        The node is rendering; this may take up to five minutes.
      </Text>
    );
  const { fault, lines, seconds, jpeg } = data.answer;
  return (
    <Flex mt="3" gap="4" align="flex-start" data-testid="try-outcome">
      {jpeg !== null && (
        <Image
          src={`data:image/jpeg;base64,${jpeg}`}
          alt="The frame that was rendered"
          w="320px"
          bg="surround"
          flexShrink={0}
        />
      )}
      <Box minW="0" flex="1">
        <Text {...(fault === null ? {} : { color: "brick" })} role="status">
          {fault === null
            ? `It renders: ${duration(seconds)} for this frame.`
            : `There is no picture. ${fault}`}
        </Text>
        <Box
          as="pre"
          mt="1"
          maxH="170px"
          overflow="auto"
          fontFamily="mono"
          fontSize="xs"
          whiteSpace="pre-wrap"
          tabIndex={0}
          aria-label="What was said"
        >
          {lines.length === 0 ? "Nothing was said." : lines.join("\n")}
        </Box>
      </Box>
    </Flex>
  );
}

/** @param nodes those that are heard of */
export function TryRenderer({
  renderers,
  nodes,
}: {
  readonly renderers: readonly string[];
  readonly nodes: readonly string[];
}) {
  const projects = (useProjects().data?.projects ?? []).filter((p) => !p.isArchived);
  const [wish, setWish] = useState<Partial<Record<keyof TryBody, string>>>({});
  const set = (change: typeof wish): void => setWish((before) => ({ ...before, ...change }));
  const project = wish.project ?? projects[0]?.slug ?? "";
  const files = useProjectFiles(project === "" ? null : project).data?.files ?? [];
  const scenes = files.filter((file) => !NO_SCENE.test(file));
  const scene = wish.scene !== undefined && scenes.includes(wish.scene) ? wish.scene : (scenes[0] ?? "");
  const renderer = wish.renderer ?? renderers.at(-1) ?? STAND_IN;
  const described = useDescribedScene(project, scene, renderer, true).data;
  const camera = wish.camera ?? described?.cameras?.[0] ?? "main";
  const frame = wish.frame ?? String(described?.timeLine?.first ?? 1);
  const node = wish.node ?? nodes[0] ?? "";
  const start = useMutation({
    mutationFn: () =>
      post<StartedTry>("/api/settings/tries", {
        node,
        project,
        scene,
        renderer,
        camera: camera.trim(),
        frame: Number(frame),
      } satisfies TryBody),
  });
  const faults = start.error instanceof ApiFailure ? start.error.faults : [];
  const faultOf = (field: string): string | undefined => faults.find((f) => f.field === field)?.message;
  if (projects.length === 0 || nodes.length === 0)
    return (
      <Text mt="3" color="softInk">
        To try one,{" "}
        {nodes.length === 0 ? "a node must be there" : "a project must be there, with a scene in it"}.
      </Text>
    );
  return (
    <Box mt="3" role="group" aria-label="Try a renderer">
      <Flex gap="3" align="flex-end" flexWrap="wrap">
        <Choice
          width="150px"
          label="Try"
          value={renderer}
          options={renderers}
          onChange={(v) => set({ renderer: v })}
        />
        <Choice width="130px" label="on" value={node} options={nodes} onChange={(v) => set({ node: v })} />
        <Choice
          width="150px"
          label="with a project's"
          value={project}
          options={projects.map((p) => p.slug)}
          onChange={(v) => set({ project: v })}
        />
        <Choice
          width="250px"
          label="scene"
          value={scene}
          options={scenes}
          onChange={(v) => set({ scene: v })}
        />
        <Box w="120px">
          <TextLine
            label="camera"
            isMono
            value={camera}
            fault={faultOf("camera")}
            onChange={(v) => set({ camera: v })}
          />
        </Box>
        <Box w="80px">
          <TextLine
            label="frame"
            isMono
            value={frame}
            fault={/^-?\d+$/.test(frame) ? faultOf("frame") : "a whole number"}
            onChange={(v) => set({ frame: v })}
          />
        </Box>
        <Button
          size="xs"
          loading={start.isPending}
          disabled={scene === "" || !/^-?\d+$/.test(frame)}
          onClick={() => start.mutate()}
        >
          Render this frame
        </Button>
      </Flex>
      {scenes.length === 0 && <Text color="softInk">This project has no file that could be a scene.</Text>}
      {start.error !== null && <Refusal>{messageOf(start.error)}</Refusal>}
      {start.data !== undefined && <Outcome key={start.data.id} id={start.data.id} />}
    </Box>
  );
}
