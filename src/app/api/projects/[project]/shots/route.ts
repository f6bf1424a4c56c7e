/** The ledger of a project: its shots, a line each. */
import { respond } from "@/server/http/respond";
import { viewShots } from "@/server/views/shots";

export const dynamic = "force-dynamic";

/** `?only=HL010,HL020`: lines of these shots alone. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  const only = new URL(request.url).searchParams.get("only");
  return respond(() => viewShots(project, only === null ? null : new Set(only.split(","))));
}
