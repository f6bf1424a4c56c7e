import { idOf, respond } from "@/server/http/respond";
import { viewAsideFiles } from "@/server/views/aside-files";

export const dynamic = "force-dynamic";

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewAsideFiles(idOf(id)));
}
