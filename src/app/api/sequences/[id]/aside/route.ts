/** Pictures that were replaced and kept. */
import { idOf, respond } from "@/server/http/respond";
import { viewAsideFiles } from "@/server/views/aside-files";

export const dynamic = "force-dynamic";

/** Answers how many there are, of which frames, and how much room they take. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => viewAsideFiles(idOf(id)));
}
