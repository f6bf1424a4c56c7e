import { respond } from "@/server/http/respond";
import { viewScene } from "@/server/views/shot";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const { code } = await params;
  return respond(() => viewScene(code, new URL(request.url).searchParams.get("path") ?? ""));
}
