/** What a person decides of one node. */
import { checkNodeSettings } from "@/contract/node-settings";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { directNode } from "@/server/actions/nodes";

/**
 * Body: settings of the node; what is left out stays as it is. The node hears of it with its next heartbeat.
 * @throws `node-unknown`
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const { name } = await params;
  return respond(async () => directNode(name, await readBody(request, checkNodeSettings), whoOf(request)));
}
