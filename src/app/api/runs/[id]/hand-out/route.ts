/** What became of a run that was handed out. */
import { idOf, respond } from "@/server/http/respond";
import { viewHandOut } from "@/server/views/hand-out";

/**
 * Answers a HandOutView: the share of each machine, what has come back of it, and the command to type there.
 * @throws `hand-out-unknown`, also for a run that is none
 */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewHandOut(idOf(id)));
}
