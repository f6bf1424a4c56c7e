/** A handover once more. */
import { makeAgain } from "@/server/handover/change";
import { idOf, respond, whoOf } from "@/server/http/respond";

/** Answers the number of the new one, and where it will be. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => makeAgain(idOf(id), whoOf(request)));
}
