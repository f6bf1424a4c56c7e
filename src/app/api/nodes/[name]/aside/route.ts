/** Somebody trusts a node no more. */
import { checkSetAside } from "@/contract/node-settings";
import { setNodeAsideByHand } from "@/server/actions/nodes";
import { readBody, respond, whoOf } from "@/server/http/respond";

/** Body: why. What it renders just now it ends; after that it gets no frames, before somebody lets it in. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const { name } = await params;
  return respond(async () =>
    setNodeAsideByHand(name, (await readBody(request, checkSetAside)).why, whoOf(request)),
  );
}
