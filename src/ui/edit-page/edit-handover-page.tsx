"use client";
/** The edit as one movie, page or sheet: its shots in its order, each in the version that stands for it. */
import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import NextLink from "next/link";
import { isLinearFile } from "@/core/image/file-format";
import { HandoverPane } from "../handover/handover-pane";
import { messageOf, projectApi, projectPage } from "../live/api";
import { useEdit } from "../live/queries";
import { Header } from "../page/header";
import { Loading, Trouble } from "../page/states";
import { count } from "../words";

export function EditHandoverPage({ project }: { readonly project: string }) {
  const edit = useEdit(project);
  const view = edit.data;
  return (
    <Flex direction="column" minH="100vh" h={{ lg: "100vh" }}>
      <Header project={view?.project ?? null} />
      {view !== undefined ? (
        <Flex as="main" direction="column" flex="1" minH="0" px="6" pt="2" pb="2" gap="2">
          <Flex gap="4" align="baseline" flexWrap="wrap">
            <Heading as="h1" fontSize="xl">
              Hand over the edit
            </Heading>
            <Text>
              {view.name}, {count(view.shots.length)} shot{view.shots.length === 1 ? "" : "s"}
            </Text>
            <Box asChild color="petrol" textDecoration="underline">
              <NextLink href={`${projectPage(view.project.slug)}/edit`}>Play it</NextLink>
            </Box>
          </Flex>
          <HandoverPane
            at={`${projectApi(view.project.slug)}/handovers`}
            frames="all"
            isOn
            isEdit
            subject={{
              rate: view.project.rate,
              hasAlpha: view.shots.some((shot) => shot.alpha !== "none"),
              isLinear: view.shots.some((shot) => isLinearFile(shot.file)),
              hasSound: false,
              others: [],
            }}
          />
        </Flex>
      ) : edit.error !== null ? (
        <Trouble title="The edit cannot be handed over" message={messageOf(edit.error)} />
      ) : (
        <Loading what="the edit" />
      )}
    </Flex>
  );
}
