/** The file of a handover. */
import { sendHandover } from "@/server/handover/send";
import { idOf, respond } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Answers the file, to be kept; of a folder of copies a ZIP. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => sendHandover(idOf(id)));
}
