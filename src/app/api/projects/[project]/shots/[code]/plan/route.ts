import { checkSavePlan } from "@/contract/bodies";
import { nameOf, readBody, respond } from "@/server/http/respond";
import { saveRevision } from "@/server/actions/save-plan";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => {
    const body = await readBody(request, checkSavePlan);
    return saveRevision(name, body.versionId, body.plan, body.basedOn);
  });
}
