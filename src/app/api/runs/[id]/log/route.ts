/** What was said while a run went. */
import { idOf, respond, searchOf } from "@/server/http/respond";
import { viewLog } from "@/server/views/logs";

export const dynamic = "force-dynamic";

/** Newest lines of a run: of one node with `node`, that hold a text with `search`. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    lines: await viewLog(idOf(id), {
      node: new URL(request.url).searchParams.get("node") ?? "",
      search: searchOf(request),
    }),
  }));
}
