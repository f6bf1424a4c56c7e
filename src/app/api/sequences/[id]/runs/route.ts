/** The start of a run. */
import { checkStartRun } from "@/contract/bodies";
import { startRun } from "@/server/actions/start-run";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";

/**
 * Body: phrase and policy, and how it shall go. Decided under the lock of its versions: of two equal starts
 * at one moment the second finds nothing left to do, and says so. Answers the run and how many frames it
 * renders.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { runId, tasks } = await startRun(
      {
        sequenceId: idOf(id),
        ...(await readBody(request, checkStartRun)),
      },
      whoOf(request),
    );
    return { runId, frames: tasks };
  });
}
