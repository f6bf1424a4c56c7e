import { idOf, respond } from "@/server/http/respond";
import { viewLog } from "@/server/http/views";

export const dynamic = "force-dynamic";

export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({ lines: await viewLog(idOf(id)) }));
}
