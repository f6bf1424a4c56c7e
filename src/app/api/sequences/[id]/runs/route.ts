import { checkStartRun } from "@/contract/api";
import { idOf, readBody, respond } from "@/server/http/respond";
import { startRun } from "@/server/work/start-run";

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { runId, decision } = await startRun({ sequenceId: idOf(id), ...(await readBody(request, checkStartRun)) });
    return { runId, frames: decision.toRender.count };
  });
}
