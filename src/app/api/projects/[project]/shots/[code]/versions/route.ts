import { checkOpenVersion } from "@/contract/bodies";
import { nameOf, readBody, respond } from "@/server/http/respond";
import { openVersion } from "@/server/actions/save-plan";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => {
    const { plan, purpose, fromRevisionId } = await readBody(request, checkOpenVersion);
    return openVersion(name, plan, purpose, fromRevisionId);
  });
}
