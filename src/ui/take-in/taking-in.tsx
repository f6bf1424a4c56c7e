"use client";
/** What becomes of what was found: which sequences, as which shot, what their numbers mean; then it is taken in. */
import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { FoundFolderView, FoundSequenceView, TakeInBody, TakenInView } from "@/contract/take-in";
import { ALPHAS, type Alpha } from "@/core/image/file-format";
import { nameFault } from "@/core/naming/name";
import { shotFault } from "@/core/plan/shot";
import { parseRate, rateText } from "@/core/timing/rate";
import { Select } from "../fields/fields";
import { ApiFailure, messageOf, post, projectApi } from "../live/api";
import { useShotCodes } from "../live/queries";
import { Labelled, TextLine } from "../page/field";
import { Refusal } from "../page/states";
import { frames } from "../words";
import { type FoundDraft, FoundTable } from "./found-table";
import { FOUND_ALPHA } from "../shot/found-words";
import { foundSentence, namesText } from "./words";

/** Whether they share frames. */
const isBeside = (a: FoundSequenceView, b: FoundSequenceView): boolean =>
  a.first <= b.last && b.first <= a.last;

type Choice = Pick<FoundDraft, "isChosen" | "camera" | "pass">;

/** What is wrong with what each is taken in as: of two that would be one, the later is told. */
function withFaults(found: FoundFolderView, choices: readonly Choice[]): readonly FoundDraft[] {
  const taken = new Set<string>();
  return found.sequences.map((sequence, i) => {
    const choice = choices[i]!;
    let fault: string | null = null;
    if (choice.isChosen) {
      const wrong = nameFault(choice.camera, 64);
      const key = `${choice.camera.toLowerCase()}/${choice.pass}`;
      if (wrong !== null) fault = `The name of a camera ${wrong}.`;
      else if (taken.has(key))
        fault = `Another one is ${choice.camera} ${choice.pass} already: give this one another camera or pass.`;
      taken.add(key);
    }
    return { sequence, ...choice, fault };
  });
}

function Beside({ found }: { readonly found: FoundFolderView }) {
  const lines = [
    ...(found.others.count === 0 ? [] : [["Other files", namesText(found.others)] as const]),
    ...(found.leftovers.count === 0
      ? []
      : [["Left over from attempts that did not end", namesText(found.leftovers)] as const]),
    ...(found.links.count === 0 ? [] : [["Links to folders, not followed", namesText(found.links)] as const]),
    ...found.unreadable.map(({ folder, errno }) => ["Cannot be read", `${folder} (${errno})`] as const),
  ];
  if (lines.length === 0) return null;
  return (
    <Box fontSize="xs" mt="2" borderTopWidth="1px" borderColor="rule" pt="1.5">
      {lines.map(([label, text], i) => (
        <Text key={i} color={label === "Cannot be read" ? "brick" : "softInk"} overflowWrap="anywhere">
          {label}:{" "}
          <Box as="span" fontFamily="mono">
            {text}
          </Box>
        </Text>
      ))}
    </Box>
  );
}

/**
 * @param onTaken with the code of the shot
 */
export function TakingIn({
  project,
  found,
  onTaken,
}: {
  readonly project: string;
  readonly found: FoundFolderView;
  readonly onTaken: (taken: TakenInView) => void;
}) {
  const client = useQueryClient();
  const codes = useShotCodes(project);
  const [choices, setChoices] = useState<readonly Choice[]>(() =>
    found.sequences.map((s) => ({
      // What shares no frame with the main one is hardly of the same shot.
      isChosen: s.known === null && isBeside(found.sequences[0]!, s),
      camera: s.camera,
      pass: s.pass,
    })),
  );
  const [code, setCode] = useState(found.code);
  const [title, setTitle] = useState("");
  const [rate, setRate] = useState(rateText(found.rate.value));
  const [alpha, setAlpha] = useState<Alpha>(found.alpha.value);
  const [isLinear, setLinear] = useState(found.isLinear.value);
  const drafts = useMemo(() => withFaults(found, choices), [found, choices]);
  const chosen = drafts.filter((d) => d.isChosen);
  const there = codes.data?.codes ?? [];
  const isNew = !there.some((c) => c.toLowerCase() === code.trim().toLowerCase());
  const codeFault = shotFault({
    code: code.trim(),
    title: title || code,
    firstFrame: 1,
    lastFrame: 1,
    markers: [],
  });
  const readRate = parseRate(rate);
  const rateFault =
    readRate === null ? `"${rate}" is no frame rate; write 24, 23.976 or 24000/1001.` : undefined;
  const isReady =
    chosen.length > 0 && chosen.every((d) => d.fault === null) && codeFault === null && readRate !== null;
  const take = useMutation({
    mutationFn: () =>
      post<TakenInView>(`${projectApi(project)}/take-in`, {
        root: found.root,
        folder: found.folder,
        code: code.trim(),
        title: title.trim() === "" ? null : title.trim(),
        sequences: chosen.map(({ sequence: { folder, prefix, suffix }, camera, pass }) => ({
          folder,
          prefix,
          suffix,
          camera,
          pass,
        })),
        rate: readRate,
        alpha,
        isLinear,
        isDry: false,
      } satisfies TakeInBody),
    onSuccess: async (taken) => {
      await client.invalidateQueries();
      onTaken(taken);
    },
  });
  const told =
    take.error instanceof ApiFailure ? take.error.faults.find((f) => f.field === "code") : undefined;
  return (
    <Box as="section" aria-label="What was found">
      <Text fontSize="md" className="figures" mb="0.5">
        {foundSentence(found)}
      </Text>
      <Text fontFamily="mono" fontSize="xs" color="softInk" mb="2" overflowWrap="anywhere">
        {found.path}
      </Text>
      {found.sequences.length > 0 && (
        <FoundTable
          drafts={drafts}
          onChange={(index, change) =>
            setChoices((before) => before.map((c, i) => (i === index ? { ...c, ...change } : c)))
          }
        />
      )}
      <Beside found={found} />
      {found.sequences.some((s) => s.known === null) && (
        <Box borderTopWidth="2px" borderColor="ink" mt="4" pt="2">
          <Grid templateColumns={{ base: "1fr 1fr", xl: "150px minmax(0, 1fr) 120px 230px 190px" }} gap="4">
            <TextLine
              label="As the shot"
              isMono
              value={code}
              onChange={setCode}
              fault={told?.message ?? (codeFault === null ? undefined : codeFault.message)}
              hint={isNew ? "a new one" : "is there: its next version"}
            />
            <TextLine
              label="Title"
              value={title}
              onChange={setTitle}
              placeholder={code}
              hint={isNew ? undefined : "the shot keeps its own"}
            />
            <TextLine
              label="Frames a second"
              isMono
              value={rate}
              onChange={setRate}
              fault={rateFault}
              hint={rate === rateText(found.rate.value) ? found.rate.why : "as you say"}
            />
            <Labelled label="Alpha" hint={alpha === found.alpha.value ? found.alpha.why : "as you say"}>
              <Select
                label="Alpha"
                value={alpha}
                options={ALPHAS.map((kind) => [kind, FOUND_ALPHA[kind]] as const)}
                onChange={setAlpha}
              />
            </Labelled>
            <Labelled
              label="Numbers are"
              hint={isLinear === found.isLinear.value ? found.isLinear.why : "as you say"}
            >
              <Select
                label="Numbers are"
                value={isLinear ? "linear" : "display"}
                options={[
                  ["display", "what is shown"],
                  ["linear", "light of the scene"],
                ]}
                onChange={(kind) => setLinear(kind === "linear")}
              />
            </Labelled>
          </Grid>
          <Flex gap="4" mt="3" align="center">
            <Button size="sm" disabled={!isReady} loading={take.isPending} onClick={() => take.mutate()}>
              Take in {frames(chosen.reduce((sum, d) => sum + d.sequence.count, 0))}
            </Button>
            <Text color="softInk">
              The files stay where they are, as they are. What is added or replaced there is seen by itself.
            </Text>
          </Flex>
          {take.error !== null && told === undefined && <Refusal>{messageOf(take.error)}</Refusal>}
        </Box>
      )}
    </Box>
  );
}
