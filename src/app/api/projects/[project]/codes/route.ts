/** Codes of a project's shots: names alone, for whoever chooses one. */
import { respond } from "@/server/http/respond";
import { viewCodes } from "@/server/views/shots";

export const dynamic = "force-dynamic";

/** Answers ShotCodes. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(() => viewCodes(project));
}
