"use client";
/** The first page of a house that holds nothing: a project's fields, and the doors by which shots come. */
import { Box, Button, Flex, Heading, Link, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { RootView } from "@/contract/project-view";
import { AddShots } from "../add-shots/add-shots";
import { messageOf, post, projectPage, shotPage } from "../live/api";
import { useLostTallies } from "../live/queries";
import { Refusal } from "../page/states";
import { ProjectFields, useNewProject } from "./project-fields";

/** What a line for a shell says, with a button that copies it. */
function CopyLine({ text }: { readonly text: string }) {
  const [isCopied, setCopied] = useState(false);
  return (
    <Flex as="span" display="inline-flex" gap="2" align="baseline">
      <code>{text}</code>
      <Button
        size="xs"
        variant="plain"
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
      >
        {isCopied ? "copied" : "copy"}
      </Button>
    </Flex>
  );
}

/** The film that comes along, made with a click. */
function FillWithDemo() {
  const router = useRouter();
  const client = useQueryClient();
  const fill = useMutation({
    mutationFn: () => post<{ slug: string }>("/api/demo"),
    onSuccess: async ({ slug }) => {
      await client.invalidateQueries();
      router.push(projectPage(slug));
    },
  });
  return (
    <Text color="softInk" mt="10">
      Only looking around?{" "}
      <Button size="xs" variant="plain" loading={fill.isPending} onClick={() => fill.mutate()}>
        Fill it with Harbour Lights
      </Button>
      , a short film of four shots, which can be removed again with one click.
      {fill.error !== null && <Refusal>{messageOf(fill.error)}</Refusal>}
    </Text>
  );
}

/** After a database was lost: what lies near the roots is offered before anybody begins anew. */
function LostBefore() {
  const { data } = useLostTallies();
  const found = data?.tallies.length ?? 0;
  if (found === 0)
    return (
      <Text color="softInk" mt="3">
        The database was lost?{" "}
        <Link href="/rebuild" color="petrol" textDecoration="underline">
          Bring the tally back
        </Link>{" "}
        from what lies beside the frames.
      </Text>
    );
  return (
    <Box role="status" borderLeftWidth="3px" borderColor="petrol" pl="4" py="1" mb="6">
      <Text fontWeight="700">
        {found === 1
          ? "A project lies near the roots whose tally is not in this house."
          : `${found} projects lie near the roots whose tally is not in this house.`}
      </Text>
      <Link href="/rebuild" color="petrol" textDecoration="underline">
        Bring the tally back
      </Link>
    </Box>
  );
}

/** @param onBegin the project is about to be made: the page stays, though the house is not empty any more */
export function StartPage({
  roots,
  onBegin,
}: {
  readonly roots: readonly RootView[];
  readonly onBegin: () => void;
}) {
  const router = useRouter();
  const client = useQueryClient();
  const project = useNewProject(roots, "My film");
  const [made, setMade] = useState<string | null>(null);
  const ensureProject = async (): Promise<string> => {
    if (made !== null) return made;
    onBegin();
    const slug = await project.make();
    setMade(slug);
    return slug;
  };
  const makeEmpty = useMutation({
    mutationFn: ensureProject,
    onSuccess: async (slug) => {
      await client.invalidateQueries();
      router.push(projectPage(slug));
    },
  });
  return (
    <Box as="main" px="6" pt="6" pb="10" maxW="1280px" mx="auto">
      <Heading as="h1" fontSize="xl" fontWeight="700">
        {made === null ? "Nothing to tally yet" : project.fields.title}
      </Heading>
      {made === null && (
        <Text color="softInk" mb="5">
          Bring in what you have; the project is made with the first thing that comes.
        </Text>
      )}
      {made === null && <LostBefore />}
      {made === null ? (
        <>
          <ProjectFields project={project} roots={roots} />
          <Flex gap="3" align="baseline" mt="2" mb="8" flexWrap="wrap" color="softInk" fontSize="xs">
            <Button
              size="xs"
              variant="plain"
              loading={makeEmpty.isPending}
              onClick={() => makeEmpty.mutate()}
            >
              Make it empty
            </Button>
            <Text>
              Its folder lies elsewhere? Declare a root on this machine:{" "}
              <CopyLine text="npx plain-tally root add NAME /folder" />
            </Text>
          </Flex>
          {makeEmpty.error !== null && Object.keys(project.faults).length === 0 && (
            <Refusal>{messageOf(makeEmpty.error)}</Refusal>
          )}
        </>
      ) : (
        <Text mb="6">
          The project is made, in{" "}
          <code>
            {roots.find((r) => r.name === project.fields.root)?.folder}/{project.fields.folder}
          </code>
          .
        </Text>
      )}
      <AddShots
        project={made}
        ensureProject={ensureProject}
        onMade={(slug, codes) =>
          router.push(
            codes.length === 1
              ? `${shotPage({ project: slug, code: codes[0]! })}?bench=prove`
              : projectPage(slug),
          )
        }
      />
      <FillWithDemo />
    </Box>
  );
}
