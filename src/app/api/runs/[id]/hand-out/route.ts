import { idOf, respond } from "@/server/http/respond";
import { viewHandOut } from "@/server/views/hand-out";

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewHandOut(idOf(id)));
}
