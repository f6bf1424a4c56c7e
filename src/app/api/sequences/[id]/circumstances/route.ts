/** How files came to be: calls, hours and warnings, with the frames of each. */
import { idOf, respond } from "@/server/http/respond";
import { viewCircumstances } from "@/server/views/circumstances";

export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return respond(() => viewCircumstances(idOf(id)));
}
