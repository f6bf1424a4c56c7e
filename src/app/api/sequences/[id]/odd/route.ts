/** Frames that are odd among their neighbours. */
import { idOf, respond } from "@/server/http/respond";
import { viewOdd } from "@/server/views/odd";

export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return respond(() => viewOdd(idOf(id)));
}
