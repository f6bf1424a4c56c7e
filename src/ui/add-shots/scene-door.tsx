"use client";
/** The door for scenes: dropped with their textures, or chosen among the project's files. */
import { Box, Button, Flex, Input, NativeSelect, Progress, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { STAND_IN } from "@/core/plan/renderer";
import { messageOf } from "../live/api";
import { useProjectFiles } from "../live/queries";
import { Refusal } from "../page/states";
import { listed, size } from "../words";
import { DropArea } from "../page/drop-area";
import { type ChosenFile, filesOfDrop, filesOfInput } from "./dropped-files";
import { type Bring, PICTURE, useBringing } from "./use-bringing";

/** Of a long list; more are found by typing. */
const SHOWN = 8;
const NAMES_TOLD = 6;

/** Files of the project by parts of their names. */
function ChooseFile({
  project,
  onChoose,
}: {
  readonly project: string;
  readonly onChoose: (scene: string) => void;
}) {
  const { data } = useProjectFiles(project);
  const [search, setSearch] = useState("");
  const found = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/);
    return (data?.files ?? []).filter(
      (file) => !PICTURE.test(file) && words.every((word) => file.toLowerCase().includes(word)),
    );
  }, [data, search]);
  if (data === undefined || data.files.length === 0) return null;
  return (
    <Box mt="3">
      <Input
        size="xs"
        fontSize="sm"
        px="2"
        bg="sheet"
        aria-label="Search the files of the project"
        placeholder={`or search the ${data.files.length}${data.isWhole ? "" : "+"} files of the project`}
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      <Box as="ul" listStyleType="none" mt="1" aria-label="Files of the project">
        {found.slice(0, SHOWN).map((file) => (
          <li key={file}>
            <Button
              size="xs"
              variant="plain"
              fontFamily="mono"
              whiteSpace="normal"
              textAlign="left"
              onClick={() => onChoose(file)}
            >
              {file}
            </Button>
          </li>
        ))}
      </Box>
      {found.length > SHOWN && (
        <Text fontSize="xs" color="softInk">
          and {found.length - SHOWN} more
        </Text>
      )}
      {found.length === 0 && (
        <Text fontSize="xs" color="softInk">
          No file of the project is called so.
        </Text>
      )}
    </Box>
  );
}

/** What goes on with the files, or why it does not. */
function BringingLine({ bringing, cancel }: Pick<Bring, "bringing" | "cancel">) {
  if (bringing.state === "failed") return <Refusal>{bringing.message}</Refusal>;
  if (bringing.state === "sending")
    return (
      <Box mt="2" role="status">
        <Progress.Root size="xs" value={bringing.of === 0 ? 100 : (100 * bringing.bytes) / bringing.of}>
          <Progress.Track bg="rule">
            <Progress.Range bg="petrol" />
          </Progress.Track>
        </Progress.Root>
        <Flex gap="3" align="baseline" mt="1">
          <Text fontSize="xs" className="figures">
            {size(bringing.bytes)} of {size(bringing.of)} brought
          </Text>
          <Button size="xs" variant="plain" onClick={cancel}>
            Stop
          </Button>
        </Flex>
      </Box>
    );
  if (bringing.state === "there")
    return (
      <Box mt="2" role="alert">
        <Text fontSize="sm" color="ochre" overflowWrap="anywhere">
          {listed(bringing.names.slice(0, NAMES_TOLD))}
          {bringing.names.length > NAMES_TOLD ? ` and ${bringing.names.length - NAMES_TOLD} more` : ""}{" "}
          {bringing.names.length === 1 ? "is" : "are"} there already.
        </Text>
        <Flex gap="3" mt="1">
          <Button size="xs" variant="outline" onClick={() => bringing.answer(false)}>
            Use {bringing.names.length === 1 ? "the one" : "those"} there
          </Button>
          <Button size="xs" variant="outline" onClick={() => bringing.answer(true)}>
            Replace {bringing.names.length === 1 ? "it" : "them"}
          </Button>
        </Flex>
      </Box>
    );
  return null;
}

/**
 * @param project null: there is none yet
 * @param onScenes scenes that are in the project, relative to its folder
 */
export function SceneDoor({
  project,
  ensureProject,
  onScenes,
}: {
  readonly project: string | null;
  readonly ensureProject: () => Promise<string>;
  readonly onScenes: (project: string, scenes: readonly string[], renderer: string) => Promise<void>;
}) {
  const { data } = useProjectFiles(project);
  const renderers = data?.renderers ?? [STAND_IN];
  const [renderer, setRenderer] = useState<string>(STAND_IN);
  const { bringing, bring, cancel, fail } = useBringing(ensureProject, (slug, scenes) =>
    onScenes(slug, scenes, renderer),
  );
  const take = (files: Promise<readonly ChosenFile[]>): void =>
    void files.then((all) => bring(all, renderer)).catch((error: unknown) => fail(messageOf(error)));
  return (
    <>
      {renderers.length > 1 && (
        <NativeSelect.Root size="xs" mb="2">
          <NativeSelect.Field
            aria-label="Renderer"
            bg="sheet"
            value={renderer}
            onChange={(event) => setRenderer(event.target.value)}
          >
            {renderers.map((name) => (
              <option key={name} value={name}>
                {name === STAND_IN ? "for the stand-in renderer" : `for ${name}`}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      <DropArea
        label="Scene files"
        isMany
        isFolderOffered
        onDrop={(dropped) => take(filesOfDrop(dropped))}
        onChoose={(files) => take(filesOfInput(files))}
      >
        <BringingLine bringing={bringing} cancel={cancel} />
      </DropArea>
      {project !== null && (
        <ChooseFile
          project={project}
          onChoose={(scene) =>
            void onScenes(project, [scene], renderer).catch((error: unknown) => fail(messageOf(error)))
          }
        />
      )}
    </>
  );
}
