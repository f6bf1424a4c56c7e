/** Proofs of a version: what was measured, and new ones. */
import { checkStartProofs } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { startProofs } from "@/server/actions/proofs";
import { viewProofs } from "@/server/views/proofs";

export const dynamic = "force-dynamic";

/** Answers a ProofsView: all that the page makes the estimate from. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => viewProofs(idOf(id)));
}

/**
 * Body: frames, a plan that need not be saved, nodes, and of a test strip its steps. Answers the run that
 * makes them.
 * @throws `plan-wrong`, with a fault for each field
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    startProofs(idOf(id), await readBody(request, checkStartProofs), whoOf(request)),
  );
}
