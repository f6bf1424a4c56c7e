import { idOf, respond } from "@/server/http/respond";
import { viewLog } from "@/server/http/views";

const LONGEST_SEARCH = 200;

export const dynamic = "force-dynamic";

/** Newest lines of a run: of one node with `node`, that hold a text with `search`. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  const query = new URL(request.url).searchParams;
  return respond(async () => ({ lines: await viewLog(idOf(id), { node: query.get("node") ?? "", search: (query.get("search") ?? "").slice(0, LONGEST_SEARCH) }) }));
}
