/** The end of a handover before it is made. */
import { endHandover } from "@/server/handover/change";
import { idOf, respond } from "@/server/http/respond";

/** @throws `handover-over` */
export async function POST(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => endHandover(idOf(id)));
}
