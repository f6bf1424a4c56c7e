/** A run is changed while it goes: nothing that is in work is lost by it. */
import { checkChangeRun } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { changeRun } from "@/server/actions/change-run";

/**
 * Body: what is to change, at least one thing; what is left out stays. New frames are queued, frames no
 * longer wanted are taken out unless a node has them in work. @throws `run-unknown`
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => changeRun(idOf(id), await readBody(request, checkChangeRun), whoOf(request)));
}
