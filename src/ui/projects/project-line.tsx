"use client";
/** A project as a line: where it lies, and what can be done with it. */
import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import NextLink from "next/link";
import { useState } from "react";
import type { ChangeProjectBody } from "@/contract/project-bodies";
import type { LeftOnDisk, ProjectLine as Line, RootView } from "@/contract/project-view";
import { rateText } from "@/core/timing/rate";
import { ApiFailure, messageOf, patch, projectApi, projectPage, remove } from "../live/api";
import { AskedAgain } from "../page/asked-again";
import { TextLine } from "../page/field";
import { useNow } from "../page/header";
import { deedText } from "../words";
import { DefaultFields } from "./default-fields";
import { Refusal } from "../page/states";

const faultsOf = (error: unknown): Readonly<Record<string, string>> =>
  error instanceof ApiFailure ? Object.fromEntries(error.faults.map((f) => [f.field, f.message])) : {};

function ChangeFields({ project, onDone }: { readonly project: Line; readonly onDone: () => void }) {
  const client = useQueryClient();
  const [title, setTitle] = useState(project.title);
  const [slug, setSlug] = useState(project.slug);
  const [rate, setRate] = useState(rateText(project.rate));
  const [defaults, setDefaults] = useState(project.defaults);
  const save = useMutation({
    mutationFn: () =>
      patch(projectApi(project.slug), { title, slug, rate, defaults } satisfies ChangeProjectBody),
    onSuccess: async () => {
      await client.invalidateQueries();
      onDone();
    },
  });
  const faults = faultsOf(save.error);
  return (
    <Box mt="2">
      <Grid templateColumns="minmax(0, 2fr) minmax(0, 1.5fr) 124px" gap="3" maxW="720px">
        <TextLine label="Project" value={title} fault={faults.title} onChange={setTitle} />
        <TextLine
          label="Its name in addresses"
          isMono
          value={slug}
          fault={faults.slug}
          hint="Files keep the name they have."
          onChange={setSlug}
        />
        <TextLine
          label="Frames a second"
          isMono
          value={rate}
          fault={faults.rate}
          hint="Of new plans."
          onChange={setRate}
        />
      </Grid>
      <DefaultFields defaults={defaults} onChange={setDefaults} faults={faults} />
      <Flex gap="3" mt="2">
        <Button size="xs" loading={save.isPending} onClick={() => save.mutate()}>
          Save
        </Button>
        <Button size="xs" variant="plain" onClick={onDone}>
          Leave as it is
        </Button>
      </Flex>
      {save.error !== null && Object.keys(faults).length === 0 && <Refusal>{messageOf(save.error)}</Refusal>}
    </Box>
  );
}

export function ProjectLine({
  project,
  roots,
}: {
  readonly project: Line;
  readonly roots: readonly RootView[];
}) {
  const client = useQueryClient();
  const [open, setOpen] = useState<"change" | "remove" | null>(null);
  const now = useNow();
  const root = roots.find((r) => r.name === project.root);
  const folder = root === undefined ? null : `${root.folder}/${project.folder}`;
  const archive = useMutation({
    mutationFn: () =>
      patch(projectApi(project.slug), { isArchived: !project.isArchived } satisfies ChangeProjectBody),
    onSuccess: () => client.invalidateQueries(),
  });
  const close = (): void => setOpen(null);
  return (
    <Box as="section" aria-label={`Project ${project.slug}`} py="4" borderTopWidth="1px" borderColor="rule">
      <Flex align="baseline" gap="4" flexWrap="wrap">
        {project.isArchived ? (
          <Text fontSize="lg" color="softInk">
            {project.title}
          </Text>
        ) : (
          <Box asChild fontSize="lg" fontWeight="700" _hover={{ color: "petrol" }}>
            <NextLink href={projectPage(project.slug)}>{project.title}</NextLink>
          </Box>
        )}
        <Text color="softInk" className="figures">
          {project.shots} shot{project.shots === 1 ? "" : "s"} · {rateText(project.rate)} frames a second
          {project.deed !== null && now !== null && ` · ${deedText(project.deed, now)}`}
        </Text>
        <Flex gap="3" ml="auto">
          {!project.isArchived && (
            <Button size="xs" variant="plain" onClick={() => setOpen(open === "change" ? null : "change")}>
              Change
            </Button>
          )}
          <Button size="xs" variant="plain" loading={archive.isPending} onClick={() => archive.mutate()}>
            {project.isArchived ? "Bring back" : "Archive"}
          </Button>
          <Button size="xs" variant="plain" onClick={() => setOpen(open === "remove" ? null : "remove")}>
            Remove
          </Button>
        </Flex>
      </Flex>
      <Text
        fontFamily="mono"
        fontSize="xs"
        color={folder === null ? "brick" : "softInk"}
        overflowWrap="anywhere"
      >
        {folder ??
          `Its root ${project.root} is not declared here: npx plain-tally root add ${project.root} /its/folder`}
      </Text>
      {archive.error !== null && <Refusal>{messageOf(archive.error)}</Refusal>}
      {open === "change" && <ChangeFields project={project} onDone={close} />}
      {open === "remove" && (
        <AskedAgain
          action={`Remove ${project.title}`}
          doIt={() => remove<LeftOnDisk>(`${projectApi(project.slug)}?stop`)}
          onKeep={close}
        >
          {project.title} goes from the tally with{" "}
          {project.shots === 1 ? "its shot" : `its ${project.shots} shots`}, their runs, checks and flags;
          what renders of it is stopped. Every file stays in <code>{folder ?? project.folder}</code>.
        </AskedAgain>
      )}
    </Box>
  );
}
