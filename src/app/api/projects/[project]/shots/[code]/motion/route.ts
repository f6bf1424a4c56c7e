/**
 * Where the picture moves and where it stands still: the page draws it beside the frames that are asked for.
 */
import { nameOf, respond } from "@/server/http/respond";
import { motionOf } from "@/server/views/thumbnails";

export const dynamic = "force-dynamic";

/**
 * Query: scene, camera, first and last frame of the time line. Answers a MotionView; reads the scene and
 * renders nothing.
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  const query = new URL(request.url).searchParams;
  return respond(() =>
    motionOf(
      name,
      {
        scene: query.get("scene") ?? "",
        camera: query.get("camera") ?? "",
        first: Number(query.get("first") ?? NaN),
        last: Number(query.get("last") ?? NaN),
      },
      () => !request.signal.aborted,
    ),
  );
}
