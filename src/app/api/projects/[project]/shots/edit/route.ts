/** Shots from an edit. */
import { checkBringInEdit } from "@/contract/project-bodies";
import { bringInEdit } from "@/server/actions/bring-in-edit";
import { readBody, respond, whoOf } from "@/server/http/respond";

/** Body: the edit as a text, with the name of its file. Answers an EditImport. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => bringInEdit(project, await readBody(request, checkBringInEdit), whoOf(request)));
}
