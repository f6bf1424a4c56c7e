"use client";
/** A page of one project: its header, and what is shown while the project is not known, or there is none. */
import type { ReactNode } from "react";
import type { ProjectsView } from "@/contract/project-view";
import { messageOf } from "../live/api";
import { useProjects } from "../live/queries";
import { Header } from "./header";
import { Loading, Trouble } from "./states";

export function WithProject({
  slug,
  children,
}: {
  readonly slug: string;
  readonly children: (project: ProjectsView["projects"][number]) => ReactNode;
}) {
  const { data, error } = useProjects();
  const project = data?.projects.find((p) => p.slug === slug);
  return (
    <>
      <Header project={project ?? null} />
      {data === undefined && error === null && <Loading what="the project" />}
      {error !== null && data === undefined && (
        <Trouble title="The project cannot be shown" message={messageOf(error)} />
      )}
      {data !== undefined && project === undefined && (
        <Trouble title="No such project" message={`There is no project called ${slug}.`} />
      )}
      {project !== undefined && children(project)}
    </>
  );
}
