import { checkStopRun } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { stopRun } from "@/server/actions/stop-run";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => stopRun(idOf(id), (await readBody(request, checkStopRun)).how));
}
