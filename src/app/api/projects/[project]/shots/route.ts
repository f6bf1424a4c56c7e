import { respond } from "@/server/http/respond";
import { viewShots } from "@/server/views/shots";

export const dynamic = "force-dynamic";

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(() => viewShots(project));
}
