import { checkImportEdit } from "@/contract/bodies";
import { importEdit } from "@/server/actions/import-edit";
import { readBody, respond } from "@/server/http/respond";

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
