/** One handover of the list. */
import { forgetHandover } from "@/server/handover/change";
import { idOf, respond } from "@/server/http/respond";

/** Takes it off the list; its file stays. @throws `handover-under-way` */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => forgetHandover(idOf(id)));
}
