/** What was said while a handover was made. */
import { handoverLog } from "@/server/handover/change";
import { idOf, respond } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Answers `{"text"}`; blank while nothing was said. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => handoverLog(idOf(id)));
}
