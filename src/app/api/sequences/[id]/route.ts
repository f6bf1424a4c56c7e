/** One sequence with all its frames, packed. */
import { idOf, respond } from "@/server/http/respond";
import { viewSequence } from "@/server/views/sequence";

export const dynamic = "force-dynamic";

/**
 * Answers a SequenceView: what a page asks for once; from then on changes come with the news.
 * @throws `sequence-unknown`
 */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewSequence(idOf(id)));
}
