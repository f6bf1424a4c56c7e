import { idOf, respond } from "@/server/http/respond";
import { formOf, pictureOf } from "@/server/http/picture";

/** The picture of a frame. Its address carries its content (?c=), so it may be kept for ever. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(async () =>
    pictureOf(idOf(id), idOf(frame), new URL(request.url).searchParams.get("c"), formOf(request)),
  );
}
