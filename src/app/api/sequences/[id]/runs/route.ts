import { checkStartRun } from "@/contract/bodies";
import { TallyError } from "@/server/errors";
import { idOf, readBody, respond } from "@/server/http/respond";
import { preflightRun } from "@/server/actions/preflight";
import { startRun } from "@/server/actions/start-run";
import { verdictOf } from "@/core/run/preflight";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const wanted = { sequenceId: idOf(id), ...(await readBody(request, checkStartRun)) };
    // Looked at again: what the page saw may be minutes old. Nothing to render is told by the start itself.
    const stops = (await preflightRun(wanted)).filter(
      (point) => verdictOf(point) === "stop" && point.code !== "nothing-to-render",
    );
    if (stops.length > 0)
      throw new TallyError("preflight-stops").with(
        stops.map((point) => ({ field: "preflight", code: point.code, message: point.code })),
      );
    const { runId, tasks } = await startRun(wanted);
    return { runId, frames: tasks };
  });
}
