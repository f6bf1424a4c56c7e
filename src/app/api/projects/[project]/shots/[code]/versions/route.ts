/** The versions of a shot: a new one begins with a plan of its own, and with empty folders. */
import { checkOpenVersion } from "@/contract/bodies";
import { nameOf, readBody, respond, whoOf } from "@/server/http/respond";
import { openVersion } from "@/server/actions/save-plan";

/**
 * Body: its first plan, whether it is a final or a rough, and of a rough the revision that it was made from.
 * Answers what it is called and which sequence to look at. @throws `plan-wrong`
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => {
    const { plan, purpose, fromRevisionId } = await readBody(request, checkOpenVersion);
    return openVersion(name, plan, purpose, fromRevisionId, whoOf(request));
  });
}
