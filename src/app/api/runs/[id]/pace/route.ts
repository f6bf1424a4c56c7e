/** Asked apart from the run: it changes by the clock, also while nothing else does. */
import { idOf, respond } from "@/server/http/respond";
import { viewPace } from "@/server/views/runs";

export const dynamic = "force-dynamic";

/** How fast a run goes at this moment, and when it is likely to end. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewPace(idOf(id)));
}
