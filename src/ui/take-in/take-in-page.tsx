"use client";
/** Take in: point at a folder that something else fills, see what is in it, and keep its tally too. */
import { Box, Button, Flex, Grid, Heading, Input, Spinner, Text } from "@chakra-ui/react";
import { useRouter, useSearchParams } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { shotPage } from "../live/api";
import { Refusal } from "../page/states";
import { WithProject } from "../page/with-project";
import { count } from "../words";
import { FolderTree } from "../folders/folder-tree";
import { TakingIn } from "./taking-in";
import { useLook } from "./use-look";

function Pointing({ project }: { readonly project: string }) {
  const router = useRouter();
  const wanted = useSearchParams().get("folder") ?? "";
  const [path, setPath] = useState(wanted);
  const { look, start, stop } = useLook(project);
  const begun = useRef(false);
  // A link may bring the folder: the ledger's door does.
  useEffect(() => {
    if (begun.current || wanted === "") return;
    begun.current = true;
    start({ root: null, folder: wanted });
  }, [wanted, start]);
  return (
    <Grid templateColumns={{ base: "1fr", lg: "290px minmax(0, 1fr)" }} gap="8">
      <FolderTree onPoint={(root, folder) => start({ root, folder })} />
      <Box minW="0">
        <Flex
          as="form"
          gap="2"
          mb="3"
          onSubmit={(event) => {
            event.preventDefault();
            if (path.trim() !== "") start({ root: null, folder: path.trim() });
          }}
        >
          <Input
            size="xs"
            fontFamily="mono"
            bg="sheet"
            aria-label="Path of a folder"
            placeholder="or paste a path on the server: /mnt/films/from-farm/HL050"
            value={path}
            onChange={(event) => setPath(event.target.value)}
          />
          <Button type="submit" size="xs" variant="outline" disabled={path.trim() === ""}>
            Look
          </Button>
        </Flex>
        {look.state === "idle" && (
          <Text color="softInk">
            Choose a folder on the left, or paste its path. Every sequence in it and below is listed with its
            gaps before anything is taken in, and nothing in it is ever changed.
          </Text>
        )}
        {look.state === "looking" && (
          <Flex gap="3" align="center" role="status">
            <Spinner size="sm" color="petrol" />
            <Text className="figures">
              Looking: {count(look.folders)} folder{look.folders === 1 ? "" : "s"}, {count(look.files)} files
              so far.
            </Text>
            <Button size="xs" variant="plain" onClick={stop}>
              Stop
            </Button>
          </Flex>
        )}
        {look.state === "wrong" && <Refusal>{look.message}</Refusal>}
        {look.state === "found" && (
          <TakingIn
            key={look.found.path}
            project={project}
            found={look.found}
            onTaken={({ shot }) => router.push(shotPage({ project, code: shot }))}
          />
        )}
      </Box>
    </Grid>
  );
}

export function TakeInPage({ project: slug }: { readonly project: string }) {
  return (
    <WithProject slug={slug}>
      {(project) => (
        <Box as="main" px="6" pt="5" pb="10">
          <Heading as="h1" fontSize="xl" fontWeight="700" mb="4">
            Take in frames for {project.title}
          </Heading>
          <Pointing project={slug} />
        </Box>
      )}
    </WithProject>
  );
}
