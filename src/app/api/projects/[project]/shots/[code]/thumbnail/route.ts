/**
 * Small pictures of a scene, rendered for the page when it asks: one camera at one moment, with the move that
 * the plan has in mind. They are never taken for frames.
 */
import { checkThumbnailMove } from "@/contract/plan";
import { faultText } from "@/contract/validate";
import { TallyError } from "@/server/errors";
import { nameOf, respond } from "@/server/http/respond";
import { thumbnailOf } from "@/server/views/thumbnails";

export const dynamic = "force-dynamic";

/** The move as the address carries it, checked like a body: addresses come from outside, too. */
function readMove(text: string | null) {
  if (text === null) return null;
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new TallyError("address-wrong", { message: "The camera move in the address is no JSON." });
  }
  const checked = checkThumbnailMove(value);
  if (!checked.ok) throw new TallyError("address-wrong", { message: faultText(checked.faults) });
  return checked.value;
}

/**
 * Query: scene, camera, time (frames of the scene, fractions allowed), move (JSON, may be left out) and v,
 * the content of the scene that the page knows. Answers a PNG.
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  const query = new URL(request.url).searchParams;
  return respond(async () => {
    const { bytes, version } = await thumbnailOf(
      name,
      {
        scene: query.get("scene") ?? "",
        camera: query.get("camera") ?? "",
        time: Number(query.get("time") ?? NaN),
        move: readMove(query.get("move")),
      },
      () => !request.signal.aborted,
    );
    // The address names the scene's content: what was asked for is kept for good, what has changed meanwhile
    // is not.
    return new Response(new Uint8Array(bytes), {
      headers: {
        "content-type": "image/png",
        "cache-control": query.get("v") === version ? "private, max-age=31536000, immutable" : "no-store",
        "x-content-type-options": "nosniff",
      },
    });
  });
}
