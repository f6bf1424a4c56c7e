/** How far off is odd in the sequence's shot. */
import { checkThresholdsBody } from "@/contract/odd-view";
import { setThresholds } from "@/server/actions/judge-odd";
import { idOf, readBody, respond } from "@/server/http/respond";
import { viewOdd } from "@/server/views/odd";

/** Body: all of them, or null for the usual ones. Answers what is odd by them. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    await setThresholds(idOf(id), (await readBody(request, checkThresholdsBody)).thresholds);
    return viewOdd(idOf(id));
  });
}
