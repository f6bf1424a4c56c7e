/** What a run came to. */
import { idOf, respond } from "@/server/http/respond";
import { summarizeRun } from "@/server/views/run-summary";

export const dynamic = "force-dynamic";

/** Answers a RunSummaryView, also while the run goes. @throws `run-unknown` */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => summarizeRun(idOf(id)));
}
