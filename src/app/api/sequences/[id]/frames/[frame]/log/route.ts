import { idOf, respond, searchOf } from "@/server/http/respond";
import { viewFrameLog } from "@/server/views/logs";

export const dynamic = "force-dynamic";

/**
 * Newest lines of all attempts at a frame, whatever their run. @param id the beauty sequence of its camera
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(async () => ({ lines: await viewFrameLog(idOf(id), idOf(frame), searchOf(request)) }));
}
