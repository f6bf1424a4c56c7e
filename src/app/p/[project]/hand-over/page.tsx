/** Handing over the newest edit of a project. */
import { EditHandoverPage } from "@/ui/edit-page/edit-handover-page";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  return <EditHandoverPage project={decodeURIComponent((await params).project)} />;
}
