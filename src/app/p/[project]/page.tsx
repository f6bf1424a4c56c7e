/** The ledger of a project, with its lines in the first HTML. */
import { ShotsPage } from "@/ui/shots/shots-page";
import { viewShots } from "@/server/views/shots";
import { withData } from "../../with-data";
import { queryKeys } from "@/ui/live/query-keys";

export const dynamic = "force-dynamic";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  const project = decodeURIComponent((await params).project);
  const [page] = await withData(
    [{ key: queryKeys.shotsOf(project), read: () => viewShots(project) }],
    <ShotsPage project={project} />,
  );
  return page;
}
