/** The newest edit of a project, played as one. */
import { EditPage } from "@/ui/edit-page/edit-page";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  return <EditPage project={decodeURIComponent((await params).project)} />;
}
