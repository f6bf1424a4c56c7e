"use client";
/** Shots that scenes will become: each line may be changed before it is made, and says what is wrong with it. */
import { Box, Button, Checkbox, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { SceneFacts } from "@/contract/scene-facts";
import type { ShotImport } from "@/contract/shot-import";
import { codeOf } from "@/core/plan/proposed-name";
import type { ShotWish } from "@/core/plan/shot-wish";
import { messageOf, post, projectApi } from "../live/api";
import { TextLine } from "../page/field";
import { Refusal } from "../page/states";
import { count, listed } from "../words";

export interface SceneDraft {
  readonly code: string;
  readonly title: string;
  /** As typed. */
  readonly first: string;
  readonly last: string;
  /** Relative to the project's folder. */
  readonly scene: string;
  readonly renderer: string;
  readonly cameras: readonly string[];
  readonly facts: SceneFacts;
}

/** A draft of what a scene says of itself. */
export const draftOf = (scene: string, renderer: string, facts: SceneFacts): SceneDraft => ({
  code: codeOf(scene),
  title: "",
  first: facts.timeLine === null ? "" : String(facts.timeLine.first),
  last: facts.timeLine === null ? "" : String(facts.timeLine.last),
  scene,
  renderer,
  cameras: facts.cameras?.slice(0, 1) ?? ["main"],
  facts,
});

const isWhole = (text: string): boolean => /^-?\d{1,9}$/.test(text.trim());

/** Null: what is typed is no time line. */
export function wishOf(draft: SceneDraft): ShotWish | null {
  const { code, title, scene, renderer, cameras } = draft;
  if (!isWhole(draft.first) || !isWhole(draft.last)) return null;
  return {
    code: code.trim(),
    title: title.trim() === "" ? null : title.trim(),
    timeLine: { first: Number(draft.first), last: Number(draft.last) },
    scene,
    renderer,
    cameras: cameras.length === 0 ? null : cameras,
    markers: null,
  };
}

/** What the server says of one draft, before it is made. */
function useDraftAnswer(project: string, draft: SceneDraft) {
  const wish = wishOf(draft);
  return useQuery({
    queryKey: ["bring-in", project, wish],
    queryFn: () => post<ShotImport>(`${projectApi(project)}/shots`, { wishes: [wish], isDry: true }),
    enabled: wish !== null,
    placeholderData: (before: ShotImport | undefined) => before,
  });
}

/** Faults of the server by where they are shown. */
const FIELDS: Readonly<Record<string, keyof SceneDraft>> = {
  code: "code",
  title: "title",
  timeLine: "first",
  lastFrame: "last",
};

export function DraftLine({
  project,
  draft,
  onChange,
  onDrop,
}: {
  readonly project: string;
  readonly draft: SceneDraft;
  readonly onChange: (change: Partial<SceneDraft>) => void;
  readonly onDrop: () => void;
}) {
  const { data, error } = useDraftAnswer(project, draft);
  const fault = data?.wrong[0];
  const at =
    fault !== undefined && "field" in fault && fault.field !== undefined ? FIELDS[fault.field] : undefined;
  const faultAt = (field: keyof SceneDraft): string | undefined =>
    at === field
      ? fault!.message
      : (field === "first" || field === "last") && !isWhole(draft[field])
        ? draft[field].trim() === ""
          ? "The scene does not say."
          : "A whole number."
        : undefined;
  const { cameras, missing, rate, markers } = draft.facts;
  const length = Number(draft.last) - Number(draft.first) + 1;
  return (
    <Box as="section" aria-label={`New shot ${draft.code}`} py="3" borderTopWidth="1px" borderColor="rule">
      <Grid
        templateColumns="minmax(120px, 1fr) minmax(160px, 2fr) 100px 100px auto"
        gap="3"
        alignItems="start"
      >
        <TextLine
          label="Code"
          isMono
          value={draft.code}
          fault={faultAt("code")}
          onChange={(code) => onChange({ code })}
        />
        <TextLine
          label="Title"
          value={draft.title}
          fault={faultAt("title")}
          onChange={(title) => onChange({ title })}
        />
        <TextLine
          label="First frame"
          isMono
          value={draft.first}
          fault={faultAt("first")}
          onChange={(first) => onChange({ first })}
        />
        <TextLine
          label="Last frame"
          isMono
          value={draft.last}
          fault={faultAt("last")}
          onChange={(last) => onChange({ last })}
        />
        <Button size="xs" variant="plain" mt="5" onClick={onDrop}>
          Leave out
        </Button>
      </Grid>
      <Flex gap="4" rowGap="1" flexWrap="wrap" align="baseline" mt="1.5" fontSize="xs" color="softInk">
        <Text fontFamily="mono">{draft.scene}</Text>
        {Number.isFinite(length) && length > 0 && <Text className="figures">{count(length)} frames</Text>}
        {rate !== null && <Text>made for {rate} frames a second</Text>}
        {markers.length > 0 && <Text>markers {listed(markers.map((m) => m.name))}</Text>}
        {cameras !== null && cameras.length > 1 && (
          <Flex gap="3" role="group" aria-label={`Cameras of ${draft.code}`}>
            {cameras.map((camera) => (
              <Checkbox.Root
                key={camera}
                size="sm"
                checked={draft.cameras.includes(camera)}
                onCheckedChange={({ checked }) =>
                  onChange({
                    cameras: cameras.filter((c) =>
                      c === camera ? checked === true : draft.cameras.includes(c),
                    ),
                  })
                }
              >
                <Checkbox.HiddenInput />
                <Checkbox.Control borderColor="ink" />
                <Checkbox.Label fontWeight="400" fontSize="xs">
                  camera {camera}
                </Checkbox.Label>
              </Checkbox.Root>
            ))}
          </Flex>
        )}
        {cameras?.length === 1 && <Text>camera {cameras[0]}</Text>}
      </Flex>
      {missing.length > 0 && (
        <Refusal>
          The scene uses {listed(missing)}, which {missing.length === 1 ? "is" : "are"} not there: drop{" "}
          {missing.length === 1 ? "it" : "them"} here too, together with the scene.
        </Refusal>
      )}
      {fault !== undefined && at === undefined && missing.length === 0 && <Refusal>{fault.message}</Refusal>}
      {data?.changed.map((line) => (
        <Text key={line.code} color="ochre" fontSize="sm">
          {line.code} is there already; {line.changes.join("; ")}.
        </Text>
      ))}
      {data?.unchanged.map((line) => (
        <Text key={line.code} color="ochre" fontSize="sm">
          {line.code} is there already, as it is.
        </Text>
      ))}
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
    </Box>
  );
}
