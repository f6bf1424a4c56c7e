import { checkChangeRun } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { changeRun } from "@/server/actions/change-run";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => changeRun(idOf(id), await readBody(request, checkChangeRun)));
}
