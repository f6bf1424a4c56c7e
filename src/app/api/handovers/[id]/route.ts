/** One handover of the list. */
import { forgetHandover } from "@/server/handover/change";
import { viewHandover } from "@/server/handover/views";
import { idOf, respond } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Answers a HandoverView that does not say whether it is out of date. @throws `handover-unknown` */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => viewHandover(idOf(id)));
}

/** Takes it off the list; its file stays. @throws `handover-under-way` */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => forgetHandover(idOf(id)));
}
