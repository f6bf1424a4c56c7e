import { checkStartRun } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { preflightRun } from "@/server/actions/preflight";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    points: await preflightRun({ sequenceId: idOf(id), ...(await readBody(request, checkStartRun)) }),
  }));
}
