/** Machines that may come in over the network. Their keys are not here: the database's accounts have them, hashed. */
import type { Who } from "@/contract/who";
import { type Db, fromJson, row, rows, write } from "../db/rows";

export interface InvitationRow {
  readonly name: string;
  /** Of each root, SHA-256 of the file that the invitation has put there. */
  readonly roots: Readonly<Record<string, string>>;
  readonly invitedAt: Date;
  readonly invitedBy: Who;
  /** Null: its key is good. */
  readonly revokedAt: Date | null;
  readonly revokedBy: Who;
}

const COLUMNS = `name, roots, invited_at AS invitedAt, invited_by AS invitedBy, revoked_at AS revokedAt, revoked_by AS revokedBy`;
type Raw = Omit<InvitationRow, "roots"> & { readonly roots: unknown };
const read = (raw: Raw): InvitationRow => ({ ...raw, roots: fromJson<Record<string, string>>(raw.roots) });

/** By name. */
export const listInvitations = async (db: Db): Promise<InvitationRow[]> =>
  (await rows<Raw>(db, `SELECT ${COLUMNS} FROM node_invitation ORDER BY name`)).map(read);

export async function findInvitation(db: Db, name: string): Promise<InvitationRow | null> {
  const found = await row<Raw>(db, `SELECT ${COLUMNS} FROM node_invitation WHERE name = ?`, [name]);
  return found === null ? null : read(found);
}

/** Writes a new one, or over one that was revoked or shall be given anew. */
export async function saveInvitation(
  db: Db,
  { name, roots, invitedBy }: Pick<InvitationRow, "name" | "roots" | "invitedBy">,
): Promise<void> {
  await write(db, "REPLACE INTO node_invitation (name, roots, invited_by) VALUES (?, ?, ?)", [
    name,
    JSON.stringify(roots),
    invitedBy,
  ]);
}

/** @returns false where there is none whose key is good */
export async function noteRevoked(db: Db, name: string, who: Who): Promise<boolean> {
  const { matched } = await write(
    db,
    "UPDATE node_invitation SET revoked_at = NOW(3), revoked_by = ? WHERE name = ? AND revoked_at IS NULL",
    [who, name],
  );
  return matched === 1;
}
