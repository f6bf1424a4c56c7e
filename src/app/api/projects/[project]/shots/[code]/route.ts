/** A shot with the plan of one of its versions; changed, and removed from the tally. */
import { checkChangeShot } from "@/contract/project-bodies";
import { readVersionName } from "@/core/plan/plan";
import { TallyError } from "@/server/errors";
import { removeShot } from "@/server/actions/remove-shot";
import { changeShotAndPlan } from "@/server/actions/shots";
import { nameOf, readBody, respond, whoOf } from "@/server/http/respond";
import { viewShot } from "@/server/views/shot";

export const dynamic = "force-dynamic";

/**
 * Query: version (as `v001` or `rough001`), camera and pass; what is left out is the newest, or the plan's
 * first. Answers a ShotView. @throws `shot-unknown`, `version-unknown`, `sequence-unknown`, `address-wrong`
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const name = nameOf(await params);
  return respond(async () => {
    const wanted = query.get("version");
    const version = wanted === null ? null : readVersionName(wanted);
    if (wanted !== null && version === null)
      throw new TallyError("address-wrong", {
        message: `"${wanted}" is no version; write v001 or rough001.`,
      });
    return viewShot(name, { version, camera: query.get("camera"), pass: query.get("pass") });
  });
}

/** Body: what is to change, at least one thing. Answers a ChangedShot. */
export async function PATCH(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () =>
    changeShotAndPlan(name, await readBody(request, checkChangeShot), whoOf(request)),
  );
}

/** Takes it out of the tally; answers LeftOnDisk. */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => removeShot(name, whoOf(request)));
}
