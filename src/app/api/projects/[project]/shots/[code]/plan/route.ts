/** The plan of a version, saved as its next revision. */
import { checkSavePlan } from "@/contract/bodies";
import { nameOf, readBody, respond, whoOf } from "@/server/http/respond";
import { saveRevision } from "@/server/actions/save-plan";

/**
 * Body: the whole plan, and the revision that it was changed from: where somebody has saved another
 * meanwhile, the answer is 409 with both numbers, and nothing is written. @throws `plan-wrong`, with a fault
 * for each field
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => {
    const body = await readBody(request, checkSavePlan);
    return saveRevision(name, body.versionId, body.plan, body.basedOn, {}, whoOf(request));
  });
}
