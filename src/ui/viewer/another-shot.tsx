"use client";
/** A sequence of another shot of the project: which shot, and what of it. */
import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Select } from "../fields/fields";
import { messageOf, type ShotName } from "../live/api";
import { useShot, useShotCodes } from "../live/queries";
import { Refusal } from "../page/states";
import { sequencesOf } from "./comparable";
import { type Compared, comparedKey } from "./use-layers";

const NONE = "";
const AS_IT_COMES = { version: null, camera: null, pass: null } as const;

export function AnotherShot({
  shot: { project, code: own },
  onChosen,
}: {
  readonly shot: ShotName;
  readonly onChosen: (compared: Compared) => void;
}) {
  const shots = useShotCodes(project);
  const [code, setCode] = useState(NONE);
  const other = useShot({ project, code }, AS_IT_COMES, code !== NONE);
  const codes = shots.data?.codes ?? [];
  const choices = other.data?.code === code ? sequencesOf(other.data) : [];
  const error = shots.error ?? other.error;
  if (shots.data !== undefined && codes.every((one) => one === own))
    return (
      <Text fontSize="xs" color="softInk">
        This project has no other shot.
      </Text>
    );
  return (
    <>
      <Box w="auto">
        <Select
          label="Of which shot"
          value={code}
          options={[
            [NONE, shots.data === undefined ? "reading the shots…" : "which shot?"],
            ...codes.filter((one) => one !== own).map((one) => [one, one] as const),
          ]}
          onChange={setCode}
        />
      </Box>
      {code !== NONE && (
        <Box w="auto">
          <Select
            label="What of that shot"
            value={NONE}
            options={[
              [NONE, choices.length === 0 ? "reading…" : "which version and pass?"],
              ...choices.map(([one, text]) => [comparedKey(one), text] as const),
            ]}
            onChange={(key) => {
              const chosen = choices.find(([one]) => comparedKey(one) === key);
              if (chosen !== undefined) onChosen(chosen[0]);
            }}
          />
        </Box>
      )}
      {error !== null && <Refusal>{messageOf(error)}</Refusal>}
    </>
  );
}
