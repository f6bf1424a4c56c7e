/** Where everybody comes in. */
import { redirect } from "next/navigation";
import { ProjectsPage } from "@/ui/projects/projects-page";
import { viewProjects } from "@/server/views/projects";
import { withData } from "./with-data";
import { queryKeys } from "@/ui/live/query-keys";

export const dynamic = "force-dynamic";

/** The one project that there is, or a choice of several. */
export default async function Page() {
  const [page, known] = await withData(
    [{ key: queryKeys.projects, read: viewProjects }],
    <ProjectsPage leadsOn />,
  );
  const projects = (known[0]?.projects ?? []).filter((project) => !project.isArchived);
  if (projects.length === 1) redirect(`/p/${encodeURIComponent(projects[0]!.slug)}`);
  return page;
}
