/** What is handed over of a sequence. */
import { checkWish, wishOf } from "@/contract/handover";
import { createHandover } from "@/server/handover/create";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { viewHandovers } from "@/server/handover/views";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Answers HandoverViews, the newest first. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => viewHandovers(idOf(id)));
}

/** Body: a wish. Answers its number and where it will be; a node makes it. @throws `handover-troubles` where gaps stop it */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    createHandover({
      ...(await handedOverOf(idOf(id))),
      wish: wishOf(await readBody(request, checkWish)),
      who: whoOf(request),
      runId: null,
      outside: null,
    }),
  );
}
