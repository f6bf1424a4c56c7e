/** The picture of a proof. */
import { idOf, respond } from "@/server/http/respond";
import { formOf, sendPicture } from "@/server/http/picture";
import { placeOfProof } from "@/server/views/proofs";

export const dynamic = "force-dynamic";

/**
 * Query: c, the content that the page knows: with it the picture may be kept for ever. Answers a picture that
 * browsers can show, whatever the kind of file.
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string; run: string; frame: string }> },
): Promise<Response> {
  const { id, run, frame } = await params;
  return respond(async () => {
    const { file, pass } = await placeOfProof(idOf(run), idOf(id), idOf(frame));
    return sendPicture(
      file,
      `the proof of frame ${frame}`,
      new URL(request.url).searchParams.get("c"),
      pass,
      formOf(request),
    );
  });
}
