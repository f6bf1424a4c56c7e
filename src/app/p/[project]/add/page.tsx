/** The doors by which shots come into a project. */
import { AddShotsPage } from "@/ui/shots/add-shots-page";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  return <AddShotsPage project={decodeURIComponent((await params).project)} />;
}
