/** One frame in work is given back, so that the node is free for another. */
import { checkPutBack } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { putBack } from "@/server/actions/nodes";

/**
 * Body: the frame, and the beauty sequence of its camera. Its samples are saved where the renderer can, and
 * it comes last in the run.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { leadId, frame } = await readBody(request, checkPutBack);
    await putBack(idOf(id), leadId, frame, whoOf(request));
  });
}
