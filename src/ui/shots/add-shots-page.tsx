"use client";
/** Shots for a project that is there: the doors, and what will be made. */
import { Box, Heading } from "@chakra-ui/react";
import { useRouter } from "next/navigation";
import { AddShots } from "../add-shots/add-shots";
import { projectPage, shotPage } from "../live/api";
import { WithProject } from "../page/with-project";

/** The doors, with where one goes on when shots are made. */
export function ProjectDoors({ project }: { readonly project: string }) {
  const router = useRouter();
  return (
    <AddShots
      project={project}
      ensureProject={() => Promise.resolve(project)}
      onMade={(slug, codes) =>
        router.push(
          codes.length === 1
            ? `${shotPage({ project: slug, code: codes[0]! })}?bench=prove`
            : projectPage(slug),
        )
      }
    />
  );
}

export function AddShotsPage({ project: slug }: { readonly project: string }) {
  return (
    <WithProject slug={slug}>
      {(project) => (
        <Box as="main" px="6" pt="5" pb="10" maxW="1280px" mx="auto">
          <Heading as="h1" fontSize="xl" fontWeight="700" mb="4">
            Add shots to {project.title}
          </Heading>
          <ProjectDoors project={slug} />
        </Box>
      )}
    </WithProject>
  );
}
