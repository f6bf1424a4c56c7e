import { nameOf, respond } from "@/server/http/respond";
import { motionOf } from "@/server/views/thumbnails";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  const query = new URL(request.url).searchParams;
  return respond(() =>
    motionOf(name, {
      scene: query.get("scene") ?? "",
      camera: query.get("camera") ?? "",
      first: Number(query.get("first") ?? NaN),
      last: Number(query.get("last") ?? NaN),
    }),
  );
}
