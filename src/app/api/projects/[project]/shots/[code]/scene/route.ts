import { nameOf, respond } from "@/server/http/respond";
import { viewScene } from "@/server/views/shot";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(() => viewScene(name, new URL(request.url).searchParams.get("path") ?? ""));
}
