/** What would come of a handover of a sequence. */
import { checkWish, wishOf } from "@/contract/handover";
import { outlookOf } from "@/server/handover/outlook";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { idOf, readBody, respond } from "@/server/http/respond";

/** Body: a wish. Answers a HandoverOutlook; nothing is made. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    outlookOf(await handedOverOf(idOf(id)), wishOf(await readBody(request, checkWish))),
  );
}
