import { checkImportEdit } from "@/contract/bodies";
import { readBody, respond } from "@/server/http/respond";
import { importEdit } from "@/server/actions/import-edit";

export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const { name, text } = await readBody(request, checkImportEdit);
    return importEdit(name, text);
  });
}
