/** Where everybody comes in. */
import { redirect } from "next/navigation";
import { ProjectsPage } from "@/ui/shots/projects-page";
import { viewProjects } from "@/server/views/shots";
import { withData } from "./with-data";
import { queryKeys } from "@/ui/live/query-keys";

export const dynamic = "force-dynamic";

/** The one project that there is, or a choice of several. */
export default async function Page() {
  const [page, known] = await withData([{ key: queryKeys.projects, read: viewProjects }], <ProjectsPage />);
  const projects = known[0]?.projects ?? [];
  if (projects.length === 1) redirect(`/p/${encodeURIComponent(projects[0]!.slug)}`);
  return page;
}
