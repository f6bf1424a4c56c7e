/** What was measured of a sequence's pictures, by column. */
import { idOf, respond } from "@/server/http/respond";
import { viewMeasures } from "@/server/views/odd";

export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return respond(() => viewMeasures(idOf(id)));
}
