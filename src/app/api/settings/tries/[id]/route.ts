import { viewTry } from "@/server/actions/try-renderer";
import { idOf, respond } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Answers a TryView: nothing yet, or the picture and what was said. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => viewTry(idOf(id)));
}
