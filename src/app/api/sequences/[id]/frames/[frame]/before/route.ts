import { formOf, pictureBefore } from "@/server/http/picture";
import { idOf, respond } from "@/server/http/respond";

/** The file that a frame's present one replaced. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string; frame: string }> },
): Promise<Response> {
  const { id, frame } = await params;
  return respond(async () =>
    pictureBefore(idOf(id), idOf(frame), new URL(request.url).searchParams.get("file"), formOf(request)),
  );
}
