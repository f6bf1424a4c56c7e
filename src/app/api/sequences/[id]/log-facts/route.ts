/** What a log of another program says of the frames of a sequence. */
import { checkLogFacts } from "@/contract/log-facts";
import { noteLog } from "@/server/actions/note-log";
import { idOf, readBody, respond } from "@/server/http/respond";

/** Body: a LogFactsBody. Answers a NotedLog. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => noteLog(idOf(id), await readBody(request, checkLogFacts)));
}
