/** A run stops, and may go on later. */
import { checkStopRun } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { stopRun } from "@/server/actions/stop-run";

/**
 * Body: how. `after-frames` lets nodes finish what they have; `now` saves the samples and gives the frames
 * back. Answers at once: the run is stopped when the last node has heard of it. @throws `run-unknown`
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => stopRun(idOf(id), (await readBody(request, checkStopRun)).how, whoOf(request)));
}
