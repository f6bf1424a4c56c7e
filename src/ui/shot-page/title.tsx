"use client";
/** The title line of a shot: what is on the table; and where it lies. */
import { Box, Button, Flex, Heading, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useMutation } from "@tanstack/react-query";
import { versionName } from "@/core/plan/plan";
import type { VersionStatus } from "@/core/plan/version-status";
import { rateText } from "@/core/timing/rate";
import { messageOf, post } from "../live/api";
import { Refusal } from "../page/states";
import { Tip } from "../theme/tip";
import { frames, listed } from "../words";
import { useShotWork, useSequenceNow } from "../shot/shot-context";

/** In the order in which they come. */
const unique = <T,>(values: readonly T[]): T[] => [...new Set(values)];

/** Version, camera and pass are chosen here; each only where there is more than one. */
export function ShotTitle() {
  const { shot, openSequence } = useShotWork();
  const { sequence } = shot;
  const own = versionName(sequence);
  const ofVersion = shot.choices.filter((c) => versionName(c) === own);
  const versions = unique(shot.choices.map(versionName));
  const cameras = unique(ofVersion.map((c) => c.camera));
  const passes = unique(ofVersion.filter((c) => c.camera === sequence.camera).map((c) => c.pass));
  return (
    <Flex align="baseline" gap="4" flexWrap={{ base: "wrap", lg: "nowrap" }} whiteSpace="nowrap">
      <Heading as="h1" fontSize="xl" fontWeight="700" lineHeight="1.1">
        {shot.code}
      </Heading>
      <Text fontSize="md" truncate title={shot.title}>
        {shot.title === shot.code ? "" : shot.title}
      </Text>
      <Choice
        label="Version"
        value={own}
        options={versions.map((v) => [v, statusText(v, shot.versions.find((s) => s.name === v)?.status)])}
        onChange={(version) => openSequence({ version })}
      />
      <VersionDecision />
      <Choice
        label="Camera"
        value={sequence.camera}
        options={cameras.map((c) => [c, `${c} camera`])}
        onChange={(camera) => openSequence({ version: own, camera, pass: sequence.pass })}
      />
      <Choice
        label="Pass"
        value={sequence.pass}
        options={passes.map((p) => [p, p])}
        onChange={(pass) => openSequence({ version: own, camera: sequence.camera, pass })}
      />
      <Text color="softInk" fontFamily="mono" fontSize="xs">
        {shot.first}-{shot.last} · {rateText(shot.plan.rate)} a second · plan revision {shot.revision}
      </Text>
    </Flex>
  );
}

/** Where the sequence lies, and what lies there that the plan does not ask for. */
export function ShotFolder() {
  const { shot } = useShotWork();
  const { counts } = useSequenceNow();
  const [isCopied, setCopied] = useState(false);
  return (
    <Flex gap="3" align="center" color="softInk" fontFamily="mono" fontSize="xs" minW="0">
      <Text truncate title={shot.folder} dir="rtl" textAlign="left">
        <bdi>{shot.folder}</bdi>
      </Text>
      <Tip text="Copy the folder's path">
        <Button
          size="xs"
          variant="plain"
          fontFamily="body"
          onClick={() => void navigator.clipboard.writeText(shot.folder).then(() => setCopied(true))}
        >
          {isCopied ? "Copied" : "Copy path"}
        </Button>
      </Tip>
      {counts.results.extra > 0 && (
        <Text fontFamily="body">{counts.results.extra} file(s) that the plan does not ask for</Text>
      )}
    </Flex>
  );
}

/** Open is what every version is: only what was decided is said. */
const statusText = (name: string, status: VersionStatus | undefined): string =>
  status === undefined || status === "open" ? name : `${name}, ${status}`;

/** Chooses the version on show among the looks of its purpose, or opens it again. */
function VersionDecision() {
  const { shot } = useShotWork();
  const decide = useMutation({
    mutationFn: (decision: "choose" | "open") =>
      post<{ dropped: number }>(`/api/versions/${shot.versionId}/status`, { decision }),
  });
  const own = shot.versions.find((v) => v.id === shot.versionId);
  const others = shot.versions.filter((v) => v.id !== shot.versionId && v.purpose === own?.purpose);
  if (own === undefined || (others.length === 0 && own.status === "open")) return null;
  const retires = listed(others.filter((v) => v.status !== "retired").map((v) => v.name));
  return (
    <Flex gap="3" align="baseline">
      {own.status !== "chosen" && (
        <Tip
          text={
            retires === ""
              ? `The shot's code alone means ${own.name} then`
              : `${retires} ${others.length === 1 ? "is" : "are"} retired: the files stay, nothing more of them is rendered, and only ${own.name} is refined`
          }
        >
          <Button
            size="xs"
            variant="plain"
            loading={decide.isPending}
            onClick={() => decide.mutate("choose")}
          >
            {retires === "" ? `Mark ${own.name} as chosen` : `Keep ${own.name}, retire ${retires}`}
          </Button>
        </Tip>
      )}
      {own.status !== "open" && (
        <Tip
          text={
            own.status === "chosen"
              ? "It is one of several looks again; what was retired stays so"
              : "It may be rendered again, beside the others"
          }
        >
          <Button size="xs" variant="plain" loading={decide.isPending} onClick={() => decide.mutate("open")}>
            Open {own.name} again
          </Button>
        </Tip>
      )}
      {decide.isSuccess && decide.data.dropped > 0 && (
        <Text color="softInk" fontSize="xs" role="status">
          {frames(decide.data.dropped)} of the others wait no more.
        </Text>
      )}
      {decide.error !== null && <Refusal>{messageOf(decide.error)}</Refusal>}
    </Flex>
  );
}

/** A visible choice in the running title; plain text while there is only one. */
function Choice({
  label,
  value,
  options,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly options: readonly (readonly [string, string])[];
  readonly onChange: (value: string) => void;
}) {
  if (options.length < 2) return <Text>{options[0]?.[1] ?? value}</Text>;
  return (
    <Box alignSelf="center">
      <NativeSelect.Root size="xs" w="auto">
        <NativeSelect.Field
          aria-label={label}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          fontSize="sm"
          bg="paper"
          border="0"
          borderBottomWidth="1px"
          borderColor="ink"
        >
          {options.map(([key, text]) => (
            <option key={key} value={key}>
              {text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
