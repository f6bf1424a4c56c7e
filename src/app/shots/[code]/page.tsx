import { redirect } from "next/navigation";
import { messageOf } from "@/ui/live/api";
import { Header } from "@/ui/page/header";
import { Trouble } from "@/ui/page/states";
import { requireShot } from "@/server/store/find-shot";

export const dynamic = "force-dynamic";

/** An address with the code alone: goes to the one project that has such a shot, or names all that do. */
export default async function Page({
  params,
  searchParams,
}: {
  readonly params: Promise<{ code: string }>;
  readonly searchParams: Promise<Record<string, string>>;
}) {
  const code = decodeURIComponent((await params).code);
  const found = await requireShot(code).catch((error: Error) => error);
  if (found instanceof Error)
    return (
      <>
        <Header project={null} />
        <Trouble title={`${code} cannot be shown`} message={messageOf(found)} />
      </>
    );
  const query = new URLSearchParams(await searchParams).toString();
  redirect(
    `/p/${encodeURIComponent(found.project.slug)}/shots/${encodeURIComponent(code)}${query === "" ? "" : `?${query}`}`,
  );
}
