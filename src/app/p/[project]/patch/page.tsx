/** What is to be rendered again, over all shots of a project. */
import { ProjectPatchPage } from "@/ui/project-patch/project-patch-page";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  return <ProjectPatchPage project={decodeURIComponent((await params).project)} />;
}
