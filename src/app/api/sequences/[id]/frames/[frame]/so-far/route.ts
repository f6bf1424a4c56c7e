import { pictureSoFar } from "@/server/http/picture";
import { idOf, respond } from "@/server/http/respond";

/** The picture of a frame that renders now, or that was stopped with its samples saved. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(async () => pictureSoFar(idOf(id), idOf(frame)));
}
