/** Files that replaced others: accepted, or taken back. */
import { checkReplaced } from "@/contract/replaced";
import { settleReplaced } from "@/server/actions/settle-replaced";
import { idOf, readBody, respond } from "@/server/http/respond";

/** Body: of which frames, and what. Answers the frames that it was done to, as a phrase. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    frames: await settleReplaced(idOf(id), await readBody(request, checkReplaced)),
  }));
}
