import { checkOpenVersion } from "@/contract/bodies";
import { readBody, respond } from "@/server/http/respond";
import { openVersion } from "@/server/actions/save-plan";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const { code } = await params;
  return respond(async () => {
    const { plan, purpose, fromRevisionId } = await readBody(request, checkOpenVersion);
    return openVersion(code, plan, purpose, fromRevisionId);
  });
}
