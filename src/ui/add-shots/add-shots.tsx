"use client";
/**
 * Four doors by which shots come: a scene, a folder of frames, a list, an edit. Below them what will be made, as ledger lines, before
 * it is made. Where there is no project yet, the first thing that is brought in makes it.
 */
import { Box, Button, Flex, Grid, Heading, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import type { EditImport, ShotImport } from "@/contract/shot-import";
import { USUAL_HANDLES } from "@/core/edit/edit-use";
import { messageOf, post, projectApi } from "../live/api";
import { sceneFacts } from "../live/queries";
import { TextLine } from "../page/field";
import { Refusal } from "../page/states";
import { count } from "../words";
import { DropArea } from "../page/drop-area";
import { FramesDoor } from "./frames-door";
import { ImportLines } from "./import-lines";
import { DraftLine, draftOf, type SceneDraft, wishOf } from "./scene-drafts";
import { SceneDoor } from "./scene-door";
import { DOORS } from "./words";

/** What was brought to a door; one at a time. */
type AtDoor =
  | { readonly door: "scene"; readonly drafts: readonly SceneDraft[] }
  | { readonly door: "list"; readonly text: string }
  | { readonly door: "edit"; readonly name: string; readonly text: string };

/** Of a table that is pasted. */
const TABLE_ROWS = 3;

function Door({ of, children }: { readonly of: keyof typeof DOORS; readonly children: ReactNode }) {
  const { title, sentence } = DOORS[of];
  return (
    <Box as="section" aria-label={title} borderTopWidth="2px" borderColor="ink" pt="2">
      <Heading as="h2" fontSize="lg">
        {title}
      </Heading>
      <Text color="softInk" mb="3" minH={{ lg: "40px" }}>
        {sentence}
      </Text>
      {children}
    </Box>
  );
}

const shotsText = (n: number): string => `${count(n)} shot${n === 1 ? "" : "s"}`;

/** What a list or an edit will come to, asked anew with each change of it. */
function useAnswer(project: string | null, at: AtDoor | null, handles: number) {
  const ask = (isDry: boolean): Promise<ShotImport | EditImport> =>
    at?.door === "edit"
      ? post<EditImport>(`${projectApi(project!)}/shots/edit`, {
          name: at.name,
          text: at.text,
          handles,
          isDry,
        })
      : post<ShotImport>(`${projectApi(project!)}/shots/list`, {
          text: at?.door === "list" ? at.text : "",
          isDry,
        });
  const answer = useQuery({
    queryKey: ["bring-in", project, at, handles],
    queryFn: () => ask(true),
    enabled: project !== null && (at?.door === "edit" || (at?.door === "list" && at.text.trim() !== "")),
  });
  return { answer, make: () => ask(false) };
}

/**
 * @param project null: there is none yet
 * @param ensureProject makes it; throws what keeps it from being made
 * @param onMade with the codes of what was made or changed
 */
export function AddShots({
  project,
  ensureProject,
  onMade,
}: {
  readonly project: string | null;
  readonly ensureProject: () => Promise<string>;
  readonly onMade: (project: string, codes: readonly string[]) => void;
}) {
  const client = useQueryClient();
  const [at, setAt] = useState<AtDoor | null>(null);
  const [table, setTable] = useState("");
  const [handles, setHandles] = useState(String(USUAL_HANDLES));
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = (work: Promise<unknown>): void => {
    setTrouble(null);
    work.catch((error: unknown) => setTrouble(messageOf(error)));
  };
  const handleCount = /^\d{1,4}$/.test(handles.trim()) ? Number(handles) : null;
  const { answer, make } = useAnswer(handleCount === null ? null : project, at, handleCount ?? 0);

  const addScenes = async (slug: string, scenes: readonly string[], renderer: string): Promise<void> => {
    const drafts: SceneDraft[] = [];
    for (const scene of scenes)
      drafts.push(draftOf(scene, renderer, await sceneFacts(slug, scene, renderer)));
    // What was said of a scene before its texture came is not true any more.
    for (const key of ["project-files", "bring-in"])
      await client.invalidateQueries({ queryKey: [key, slug] });
    setAt((before) => {
      const others = before?.door === "scene" ? before.drafts : [];
      return {
        door: "scene",
        drafts: [...others.filter((d) => !scenes.includes(d.scene)), ...drafts],
      };
    });
  };
  const readList = async (text: string): Promise<void> => {
    setTable(text);
    if (text.trim() === "") return setAt(null);
    await ensureProject();
    setAt({ door: "list", text });
  };
  const readEditFile = async (file: File): Promise<void> => {
    const text = await file.text();
    await ensureProject();
    setAt({ door: "edit", name: file.name, text });
  };
  const save = useMutation({
    mutationFn: async (): Promise<ShotImport> =>
      at?.door === "scene"
        ? post<ShotImport>(`${projectApi(project!)}/shots`, {
            wishes: at.drafts.map(wishOf),
            isDry: false,
          })
        : make(),
    onSuccess: async (brought) => {
      await client.invalidateQueries();
      const codes = [...brought.made, ...brought.changed].map((line) => line.code);
      if (brought.wrong.length === 0 || codes.length > 0) onMade(project!, codes);
      else setTrouble(brought.wrong[0]!.message);
    },
  });
  const wishes = at?.door === "scene" ? at.drafts.map(wishOf) : [];
  const willDo =
    at?.door === "scene"
      ? wishes.every((wish) => wish !== null)
        ? wishes.length
        : 0
      : (answer.data?.made.length ?? 0) + (answer.data?.changed.length ?? 0);
  const isChangeOnly = at?.door !== "scene" && answer.data !== undefined && answer.data.made.length === 0;

  return (
    <Box>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr", lg: "1fr 1fr 1fr 1fr" }} gap="6">
        <Door of="scene">
          <SceneDoor project={project} ensureProject={ensureProject} onScenes={addScenes} />
        </Door>
        <Door of="frames">
          <FramesDoor ensureProject={ensureProject} onTrouble={setTrouble} />
        </Door>
        <Door of="list">
          <Textarea
            aria-label="A table of shots"
            size="xs"
            fontSize="xs"
            fontFamily="mono"
            bg="sheet"
            rows={TABLE_ROWS}
            placeholder={"code,title,first,last\nMF010,the lamp,1001,1096"}
            value={table}
            onChange={(event) => setTable(event.target.value)}
            onBlur={(event) => read(readList(event.target.value))}
            mb="2"
          />
          {table.trim() !== "" && at?.door !== "list" && (
            <Button size="xs" variant="outline" mb="2" onClick={() => read(readList(table))}>
              Read this table
            </Button>
          )}
          <DropArea
            label="A list of shots"
            accept=".csv,.tsv,.txt"
            onDrop={(data) => read(data.files[0]?.text().then(readList) ?? Promise.resolve())}
            onChoose={(files) => read(files[0]!.text().then(readList))}
          />
        </Door>
        <Door of="edit">
          <DropArea
            label="An edit file"
            accept=".edl,.otio,.json,.txt"
            onDrop={(data) =>
              read(data.files[0] === undefined ? Promise.resolve() : readEditFile(data.files[0]))
            }
            onChoose={(files) => read(readEditFile(files[0]!))}
          />
          <Box mt="2" maxW="230px">
            <TextLine
              label="Handles: frames before and behind"
              isMono
              value={handles}
              onChange={setHandles}
              fault={handleCount === null ? "A whole number from 0 to 9999." : undefined}
            />
          </Box>
        </Door>
      </Grid>
      {trouble !== null && <Refusal>{trouble}</Refusal>}
      {at !== null && project !== null && (
        <Box as="section" aria-label="What follows" mt="6">
          {at.door === "scene" ? (
            at.drafts.map((draft) => (
              <DraftLine
                key={draft.scene}
                project={project}
                draft={draft}
                onChange={(change) =>
                  setAt({
                    ...at,
                    drafts: at.drafts.map((d) => (d.scene === draft.scene ? { ...d, ...change } : d)),
                  })
                }
                onDrop={() => {
                  const drafts = at.drafts.filter((d) => d.scene !== draft.scene);
                  setAt(drafts.length === 0 ? null : { ...at, drafts });
                }}
              />
            ))
          ) : answer.data !== undefined ? (
            <ImportLines brought={answer.data} />
          ) : answer.error !== null ? (
            <Refusal>{messageOf(answer.error)}</Refusal>
          ) : (
            <Text color="softInk" role="status">
              Reading.
            </Text>
          )}
          <Flex gap="3" mt="4" align="center">
            <Button size="sm" disabled={willDo === 0} loading={save.isPending} onClick={() => save.mutate()}>
              {isChangeOnly ? "Change" : "Make"} {shotsText(willDo)}
            </Button>
            <Button
              size="xs"
              variant="plain"
              onClick={() => {
                setAt(null);
                setTable("");
              }}
            >
              Not now
            </Button>
          </Flex>
          {save.error !== null && <Refusal>{messageOf(save.error)}</Refusal>}
        </Box>
      )}
    </Box>
  );
}
