import { idOf, respond } from "@/server/http/respond";
import { viewSequence } from "@/server/views/sequence";

export const dynamic = "force-dynamic";

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewSequence(idOf(id)));
}
