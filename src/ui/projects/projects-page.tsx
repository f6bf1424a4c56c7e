"use client";
/**
 * The projects of the house: made, changed, put away, removed. A house without any shows the doors by which work
 * comes in.
 */
import { Box, Button, Flex, Heading, Link, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { ProjectsView } from "@/contract/project-view";
import { messageOf, projectPage } from "../live/api";
import { useProjects } from "../live/queries";
import { ThisMorning } from "../news/this-morning";
import { Header } from "../page/header";
import { Loading, Refusal, Trouble } from "../page/states";
import { ProjectFields, useNewProject } from "./project-fields";
import { ProjectLine } from "./project-line";
import { StartPage } from "./start-page";

function NewProjectFields({ roots, onDone }: Pick<ProjectsView, "roots"> & { readonly onDone: () => void }) {
  const router = useRouter();
  const client = useQueryClient();
  const project = useNewProject(roots, "");
  const make = useMutation({
    mutationFn: project.make,
    onSuccess: async (slug) => {
      await client.invalidateQueries();
      router.push(projectPage(slug));
    },
  });
  return (
    <Box as="section" aria-label="A new project" py="4" borderTopWidth="2px" borderColor="ink">
      <ProjectFields project={project} roots={roots} />
      <Flex gap="3" mt="3" align="center">
        <Button size="sm" loading={make.isPending} onClick={() => make.mutate()}>
          Make the project
        </Button>
        <Button size="xs" variant="plain" onClick={onDone}>
          Not now
        </Button>
      </Flex>
      {make.error !== null && Object.keys(project.faults).length === 0 && (
        <Refusal>{messageOf(make.error)}</Refusal>
      )}
    </Box>
  );
}

function Ledger({ projects, roots }: ProjectsView) {
  const [isNew, setNew] = useState(false);
  const active = projects.filter((p) => !p.isArchived);
  const archived = projects.filter((p) => p.isArchived);
  return (
    <Box as="main" px="6" pt="5" pb="10" maxW="1280px" mx="auto">
      <Flex align="baseline" gap="4" mb="2">
        <Heading as="h1" fontSize="xl" fontWeight="700">
          Projects
        </Heading>
        {!isNew && (
          <Button size="sm" variant="outline" ml="auto" onClick={() => setNew(true)}>
            New project
          </Button>
        )}
      </Flex>
      <ThisMorning project={null} />
      {isNew && <NewProjectFields roots={roots} onDone={() => setNew(false)} />}
      {active.map((project) => (
        <ProjectLine key={project.slug} project={project} roots={roots} />
      ))}
      {archived.length > 0 && (
        <>
          <Heading as="h2" fontSize="md" mt="8" mb="1" color="softInk">
            Archived
          </Heading>
          {archived.map((project) => (
            <ProjectLine key={project.slug} project={project} roots={roots} />
          ))}
        </>
      )}
      {active.length === 0 && !isNew && (
        <Text color="softInk" mt="6">
          All projects are archived: bring one back, or make a new one.
        </Text>
      )}
      <Text color="softInk" fontSize="xs" mt="8">
        A project lies on disk and is not here?{" "}
        <Link href="/rebuild" color="petrol" textDecoration="underline">
          Bring its tally back
        </Link>
        .
      </Text>
    </Box>
  );
}

/** @param leadsOn to the one project that there is: so the first page of the house does */
export function ProjectsPage({ leadsOn }: { readonly leadsOn: boolean }) {
  const { data, error } = useProjects();
  const router = useRouter();
  const [hasBegun, setBegun] = useState(false);
  const active = data?.projects.filter((p) => !p.isArchived) ?? [];
  const only = leadsOn && !hasBegun && active.length === 1 ? active[0]!.slug : null;
  // The server leads on by itself, unless it could not know yet: the database was away.
  useEffect(() => {
    if (only !== null) router.replace(projectPage(only));
  }, [only, router]);
  return (
    <>
      <Header project={null} />
      {data === undefined && error === null && <Loading what="the projects" />}
      {data === undefined && error !== null && (
        <Trouble title="The projects cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined &&
        (data.projects.length === 0 || hasBegun ? (
          <StartPage roots={data.roots} onBegin={() => setBegun(true)} />
        ) : (
          <Ledger {...data} />
        ))}
    </>
  );
}
