import { idOf, respond } from "@/server/http/respond";
import { changeOfFrame } from "@/server/views/frame-change";

/** What the present file of a frame has that the one before it had not: samples, grain, bytes. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(() => changeOfFrame(idOf(id), idOf(frame)));
}
