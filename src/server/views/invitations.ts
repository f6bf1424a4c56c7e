/** Who may come in over the network, as pages and the command line tell it. Keys are nowhere to be read. */
import type { InvitationsView, InvitationView } from "@/contract/invitation-view";
import { runningHouse, settings } from "../configuration";
import { pool } from "../db/pool";
import { listInvitations } from "../store/invitations";
import { startsOfNodes } from "../store/nodes";

export async function viewInvitations(): Promise<InvitationView[]> {
  const [invitations, starts] = await Promise.all([listInvitations(pool()), startsOfNodes(pool())]);
  return invitations.map(({ name, invitedAt, invitedBy, revokedAt, revokedBy }) => {
    const startedAt = starts.get(name);
    const hasJoined = startedAt !== undefined && startedAt >= invitedAt;
    return {
      name,
      state: revokedAt !== null ? "revoked" : hasJoined ? "joined" : "invited",
      by: invitedBy,
      at: invitedAt.getTime(),
      revoked: revokedAt === null ? null : { by: revokedBy, at: revokedAt.getTime() },
    };
  });
}

export async function viewInvitationsPage(): Promise<InvitationsView> {
  const { listen } = runningHouse();
  return {
    invitations: await viewInvitations(),
    listens: listen == null ? null : `${listen.address}:${listen.port}`,
    roots: settings().roots,
  };
}
