import { checkStartRun } from "@/contract/bodies";
import { startRun } from "@/server/actions/start-run";
import { idOf, readBody, respond } from "@/server/http/respond";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { runId, tasks } = await startRun({
      sequenceId: idOf(id),
      ...(await readBody(request, checkStartRun)),
    });
    return { runId, frames: tasks };
  });
}
