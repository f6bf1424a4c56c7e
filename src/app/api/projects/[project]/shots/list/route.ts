/** Shots from a list. */
import { checkBringInList } from "@/contract/project-bodies";
import { bringInList } from "@/server/actions/bring-in-shots";
import { readBody, respond, whoOf } from "@/server/http/respond";

/** Body: the table as a text. Answers a ShotImport, also of what is only said and not done. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const { text, isDry } = await readBody(request, checkBringInList);
    return bringInList(project, text, isDry, whoOf(request));
  });
}
