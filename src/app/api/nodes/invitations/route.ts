/** Machines that may come in over the network. */
import { checkInvite } from "@/contract/invitation-view";
import { noteAbout } from "@/server/http/audit-trail";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { inviteFromPage } from "@/server/actions/invite-node";
import { viewInvitationsPage } from "@/server/views/invitations";

/** Answers an InvitationsView. Keys are nowhere to be read. */
export async function GET(): Promise<Response> {
  return respond(viewInvitationsPage);
}

/**
 * Body: the node's name, and where the storage lies on its machine. Answers the line to run there; it holds the key, and is
 * told this once.
 * @throws `not-listening`, `invited-already`, `accounts-refused`, `root-unwritable`, `root-wrong`
 */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const body = await readBody(request, checkInvite);
    await noteAbout(body.name);
    return inviteFromPage(body, whoOf(request));
  });
}
