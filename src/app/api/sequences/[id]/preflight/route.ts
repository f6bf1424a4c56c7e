/** What a start would do, and what speaks against it, before anybody presses the button. */
import { checkStartRun } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { preflightRun } from "@/server/actions/preflight";

/**
 * Body: a run as it would be started. Answers the points, by the same decision that the start makes again
 * under its lock; nothing is changed.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    points: await preflightRun({ sequenceId: idOf(id), ...(await readBody(request, checkStartRun)) }),
  }));
}
