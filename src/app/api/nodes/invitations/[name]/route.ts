/** The key of one node. */
import { respond, whoOf } from "@/server/http/respond";
import { revokeNode } from "@/server/actions/invite-node";

/** Takes it away: the node ends, and its frames go to others. @throws `invitation-unknown`, `accounts-refused` */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const { name } = await params;
  return respond(async () => revokeNode(name, whoOf(request)));
}
