/** Saved samples and files that the plan does not ask for. */
import { checkDiscard } from "@/contract/bodies";
import { discard } from "@/server/actions/discard";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";

/** Body: what, of which frames, and whether it is only counted. Answers a DiscardedView. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => discard(idOf(id), await readBody(request, checkDiscard), whoOf(request)));
}
