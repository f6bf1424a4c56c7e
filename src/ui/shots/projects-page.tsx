"use client";
/**
 * The projects of the house, where there is none or more than one.
 * Asks once and stays as it is: projects come and go seldom, and no news are told of them.
 */
import { Box, Heading, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { useRouter } from "next/navigation";
import { useEffect } from "react";
import { messageOf } from "../live/api";
import { useProjects } from "../live/queries";
import { Header } from "../page/header";
import { Empty, Loading, Trouble } from "../page/states";

/** With one project it leads on to its shots. */
export function ProjectsPage() {
  const { data, error } = useProjects();
  const router = useRouter();
  const only = data?.projects.length === 1 ? data.projects[0]!.slug : null;
  // The server leads on by itself, unless it could not know yet: the database was away.
  useEffect(() => {
    if (only !== null) router.replace(`/p/${encodeURIComponent(only)}`);
  }, [only, router]);
  return (
    <>
      <Header project={null} />
      {data === undefined && error === null && <Loading what="the projects" />}
      {data === undefined && error !== null && (
        <Trouble title="The projects cannot be shown" message={messageOf(error)} />
      )}
      {data?.projects.length === 0 && (
        <Empty title="No project yet">
          Start the demo with <code>npm run demo -- --fresh</code> to see a project with four shots.
        </Empty>
      )}
      {data !== undefined && data.projects.length > 1 && (
        <Box as="main" px="6" pt="5" maxW="1680px" mx="auto">
          <Heading as="h1" fontSize="xl" fontWeight="700" mb="2">
            Projects
          </Heading>
          {data.projects.map(({ slug, title, shots }) => (
            <Box key={slug} py="4" borderTopWidth="1px" borderColor="rule">
              <Box asChild fontSize="lg" fontWeight="700" _hover={{ color: "petrol" }}>
                <NextLink href={`/p/${encodeURIComponent(slug)}`}>{title}</NextLink>
              </Box>
              <Text color="softInk" className="figures">
                {shots} shot{shots === 1 ? "" : "s"}
              </Text>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
