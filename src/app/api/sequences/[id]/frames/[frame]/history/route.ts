/** What happened to a frame. */
import { idOf, respond } from "@/server/http/respond";
import { viewFrameHistory } from "@/server/views/frame-history";

export const dynamic = "force-dynamic";

/** Answers a FrameHistoryView, also of a frame that nothing was ever done to. */
export async function GET(
  _: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(() => viewFrameHistory(idOf(id), idOf(frame)));
}
