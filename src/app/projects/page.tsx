/** All projects, also where there is one. */
import { viewProjects } from "@/server/views/projects";
import { queryKeys } from "@/ui/live/query-keys";
import { ProjectsPage } from "@/ui/projects/projects-page";
import { withData } from "../with-data";

export const dynamic = "force-dynamic";

export default async function Page() {
  const [page] = await withData(
    [{ key: queryKeys.projects, read: viewProjects }],
    <ProjectsPage leadsOn={false} />,
  );
  return page;
}
