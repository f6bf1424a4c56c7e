/** What a person decides of one node. */
import { checkNodeSettings } from "@/contract/node-settings";
import { readBody, respond } from "@/server/http/respond";
import { directNode } from "@/server/actions/nodes";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const { name } = await params;
  return respond(async () => directNode(name, await readBody(request, checkNodeSettings)));
}
