import { checkSavePlan } from "@/contract/bodies";
import { readBody, respond } from "@/server/http/respond";
import { saveRevision } from "@/server/actions/save-plan";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const { code } = await params;
  return respond(async () => {
    const body = await readBody(request, checkSavePlan);
    return saveRevision(code, body.versionId, body.plan, body.basedOn);
  });
}
