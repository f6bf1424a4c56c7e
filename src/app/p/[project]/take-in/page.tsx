/** Taking in a folder that something else fills. */
import { TakeInPage } from "@/ui/take-in/take-in-page";

export default async function Page({ params }: { readonly params: Promise<{ project: string }> }) {
  return <TakeInPage project={decodeURIComponent((await params).project)} />;
}
