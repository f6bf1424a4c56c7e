/** What a stopped run has left is started anew with the newest plan. */
import { idOf, respond, whoOf } from "@/server/http/respond";
import { resumeAtNewest } from "@/server/actions/resume-newest";

/**
 * Body: none. Answers the new run and how many frames it has.
 * @throws `run-unknown`, `run-not-stopped`, `run-finished`, `run-handed-out`, and those of a start
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { runId, tasks } = await resumeAtNewest(idOf(id), whoOf(request));
    return { runId, frames: tasks };
  });
}
