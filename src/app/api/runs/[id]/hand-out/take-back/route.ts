/** A machine of a hand-out is no longer waited for. */
import { checkTakeBack } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { takeBackShare } from "@/server/actions/hand-out";

/**
 * Body: the name of the machine. What it has not brought back waits for the nodes of the house from now on.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    takeBackShare(idOf(id), (await readBody(request, checkTakeBack)).machine, whoOf(request)),
  );
}
