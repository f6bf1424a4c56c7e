/** An edit list that tells which frames of which shots the cut uses. */
import { checkImportEdit } from "@/contract/bodies";
import { importEdit } from "@/server/actions/import-edit";
import { readBody, respond } from "@/server/http/respond";
import { viewEdit } from "@/server/views/edit";

export const dynamic = "force-dynamic";

/** The newest edit that was read, as it is played: its stretches, and the pictures of its shots. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(() => viewEdit(project));
}

/**
 * Body: the list as a text, with the name of its file. Answers an ImportedEdit: which shots were found in it,
 * and which events are none of ours. An earlier list is kept as the one before, so that what is new can be
 * shown.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const { name, text } = await readBody(request, checkImportEdit);
    return importEdit(project, name, text);
  });
}
