/** The ledger of a project: its shots, a line each; and new ones. */
import { checkBringInShots } from "@/contract/project-bodies";
import { bringInShots } from "@/server/actions/bring-in-shots";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { LINES_AT_FIRST, viewShots } from "@/server/views/shots";

export const dynamic = "force-dynamic";

/** The first lines and the codes of the others; `?only=HL010,HL020`: lines of these shots alone. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  const only = new URL(request.url).searchParams.get("only");
  return respond(() =>
    only === null ? viewShots(project, null, LINES_AT_FIRST) : viewShots(project, new Set(only.split(","))),
  );
}

/** Body: what is wanted of each shot. Answers a ShotImport, also of what is only said and not done. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const { wishes, isDry } = await readBody(request, checkBringInShots);
    return bringInShots(project, wishes, { isDry, who: whoOf(request) });
  });
}
