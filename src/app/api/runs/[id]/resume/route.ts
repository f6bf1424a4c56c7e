import { idOf, respond } from "@/server/http/respond";
import { resumeRun } from "@/server/actions/stop-run";

export async function POST(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => resumeRun(idOf(id)));
}
