/** Temporary files of attempts that have ended. */
import { checkStartRun } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { removeLeftovers } from "@/server/actions/preflight";

/**
 * Body: a run as it would be started, since the preflight of that run found them. What a node still writes
 * stays.
 */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    removeLeftovers({ sequenceId: idOf(id), ...(await readBody(request, checkStartRun)) }),
  );
}
