/** A run goes on that was stopped or is held, or whose frames were set aside. */
import { idOf, respond, whoOf } from "@/server/http/respond";
import { resumeRun } from "@/server/actions/stop-run";

/**
 * Body: none. Failures of before count no more; the plan and the scene are those that the run was started
 * with.
 * @throws `run-unknown`
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => resumeRun(idOf(id), whoOf(request)));
}
