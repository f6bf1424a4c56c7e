import { idOf, respond } from "@/server/http/respond";
import { viewRevisions } from "@/server/views/shot";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const { code } = await params;
  return respond(async () => ({
    revisions: await viewRevisions(code, idOf(new URL(request.url).searchParams.get("version") ?? "")),
  }));
}
