import { checkThumbnailMove } from "@/contract/plan";
import { faultText } from "@/contract/validate";
import { TallyError } from "@/server/errors";
import { nameOf, respond } from "@/server/http/respond";
import { thumbnailOf } from "@/server/views/thumbnails";

export const dynamic = "force-dynamic";

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

export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  const query = new URL(request.url).searchParams;
  return respond(async () => {
    const { bytes, version } = await thumbnailOf(name, {
      scene: query.get("scene") ?? "",
      camera: query.get("camera") ?? "",
      time: Number(query.get("time") ?? NaN),
      move: readMove(query.get("move")),
    });
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
