/** What somebody says of odd ones: a fault, or none. */
import { checkJudge } from "@/contract/odd-view";
import { judgeOdd } from "@/server/actions/judge-odd";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";

/** Body: which, and what of them. Answers how many were judged: those that are still odd. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    judged: await judgeOdd(idOf(id), await readBody(request, checkJudge), whoOf(request)),
  }));
}
