"use client";
/** The title line of a shot: what is on the table, where it lies, and the picture of the focused frame. */
import { Box, Button, Flex, Heading, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import { versionName } from "@/core/plan/plan";
import { rateText } from "@/core/timing/rate";
import { Tip } from "../theme/tip";
import { useShotWork } from "./shot-context";

const unique = <T,>(values: readonly T[]): T[] => [...new Set(values)];

export function ShotTitle() {
  const { shot, counts, openSequence } = useShotWork();
  const [isCopied, setCopied] = useState(false);
  const { sequence } = shot;
  const own = versionName(sequence);
  const ofVersion = shot.choices.filter((c) => versionName(c) === own);
  const versions = unique(shot.choices.map(versionName));
  const cameras = unique(ofVersion.map((c) => c.camera));
  const passes = unique(ofVersion.filter((c) => c.camera === sequence.camera).map((c) => c.pass));
  return (
    <>
      <Flex align="baseline" gap="4" flexWrap="wrap">
        <Heading as="h1" fontSize="xl" fontWeight="700">{shot.code}</Heading>
        <Text fontSize="md">{shot.title}</Text>
        <Choice label="Version" value={own} options={versions.map((v) => [v, v])} onChange={(version) => openSequence({ version })} />
        <Choice label="Camera" value={sequence.camera} options={cameras.map((c) => [c, `${c} camera`])} onChange={(camera) => openSequence({ version: own, camera, pass: sequence.pass })} />
        <Choice label="Pass" value={sequence.pass} options={passes.map((p) => [p, p])} onChange={(pass) => openSequence({ version: own, camera: sequence.camera, pass })} />
        <Text color="softInk" fontFamily="mono" fontSize="xs">
          {shot.first}-{shot.last} · {rateText(shot.plan.rate)} a second · plan revision {shot.revision}
        </Text>
      </Flex>
      <Flex gap="3" align="center" color="softInk" fontFamily="mono" fontSize="xs" minW="0">
        <Text truncate title={shot.folder} dir="rtl" textAlign="left"><bdi>{shot.folder}</bdi></Text>
        <Tip text="Copy the folder's path"><Button size="xs" variant="plain" fontFamily="body" onClick={() => void navigator.clipboard.writeText(shot.folder).then(() => setCopied(true))}>{isCopied ? "Copied" : "Copy path"}</Button></Tip>
        {counts.results.extra > 0 && <Text fontFamily="body">{counts.results.extra} file(s) that the plan does not ask for</Text>}
      </Flex>
    </>
  );
}

/** A visible choice in the running title; plain text while there is only one. */
function Choice({ label, value, options, onChange }: { readonly label: string; readonly value: string; readonly options: readonly (readonly [string, string])[]; readonly onChange: (value: string) => void }) {
  if (options.length < 2) return <Text>{options[0]?.[1] ?? value}</Text>;
  return (
    <Box alignSelf="center">
      <NativeSelect.Root size="xs" w="auto">
        <NativeSelect.Field aria-label={label} value={value} onChange={(event) => onChange(event.target.value)} fontSize="sm" bg="paper" border="0" borderBottomWidth="1px" borderColor="ink">
          {options.map(([key, text]) => <option key={key} value={key}>{text}</option>)}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
