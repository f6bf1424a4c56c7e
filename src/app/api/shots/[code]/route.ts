import { idOf, respond } from "@/server/http/respond";
import { viewShot } from "@/server/http/views";

export const dynamic = "force-dynamic";

export async function GET(request: Request, { params }: { params: Promise<{ code: string }> }): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const version = query.get("version");
  const { code } = await params;
  return respond(async () => viewShot(code, { version: version === null ? null : idOf(version), camera: query.get("camera") }));
}
