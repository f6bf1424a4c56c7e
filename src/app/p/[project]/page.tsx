/** The ledger of a project, with its first lines in the first HTML. */
import { ShotsPage } from "@/ui/shots/shots-page";
import { LINES_AT_FIRST, viewShots } from "@/server/views/shots";
import { withData } from "../../with-data";
import { queryKeys } from "@/ui/live/query-keys";

export const dynamic = "force-dynamic";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  const project = decodeURIComponent((await params).project);
  const [page] = await withData(
    [{ key: queryKeys.shotsOf(project), read: () => viewShots(project, null, LINES_AT_FIRST) }],
    <ShotsPage project={project} />,
  );
  return page;
}
