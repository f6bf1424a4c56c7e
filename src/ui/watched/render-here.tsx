"use client";
/** The way from frames of another program to frames of ours: the next version, with a scene. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { versionName } from "@/core/plan/plan";
import { renderedHere } from "@/core/plan/rendered-here";
import { largest } from "@/core/many";
import { Select } from "../fields/fields";
import { messageOf } from "../live/api";
import { Refusal } from "../page/states";
import { useOpenVersion } from "../shot/use-open-version";
import { useShotWork } from "../shot/shot-context";

export function RenderHere() {
  const { shot } = useShotWork();
  const open = useOpenVersion();
  const usual = shot.scenes.find((scene) => scene.toLowerCase().endsWith(`/${shot.code.toLowerCase()}.json`));
  const [scene, setScene] = useState(usual ?? shot.scenes[0] ?? "");
  const { purpose } = shot.sequence;
  const next = versionName({
    purpose,
    version: largest(shot.choices.filter((c) => c.purpose === purpose).map((c) => c.version)) + 1,
  });
  return (
    <Box borderTopWidth="1px" borderColor="rule" pt="2" mt="3">
      <Text color="softInk" fontSize="sm" mb="1.5">
        To render here instead, open {next}: what lies in this folder stays as it is, and files go to a folder
        of their own.
      </Text>
      {shot.scenes.length === 0 ? (
        <Text fontSize="sm">The project has no scene yet: bring one by Add shots first.</Text>
      ) : (
        <Flex gap="3" align="center">
          <Select
            label="Scene"
            value={scene}
            options={shot.scenes.map((file) => [file, file] as const)}
            onChange={setScene}
          />
          <Button
            size="xs"
            variant="outline"
            loading={open.isPending}
            onClick={() =>
              open.mutate({ plan: renderedHere(shot.plan, scene), purpose, fromRevisionId: null })
            }
          >
            Open {next}
          </Button>
        </Flex>
      )}
      {open.error !== null && <Refusal>{messageOf(open.error)}</Refusal>}
    </Box>
  );
}
