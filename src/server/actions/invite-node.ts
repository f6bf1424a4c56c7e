/**
 * Inviting a node of another machine, and turning it out again. An invitation makes an account of the database for one name,
 * puts a file into every root that the other machine has to read, and gives one line to paste there.
 */
import crypto, { X509Certificate } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { type Invitation, TOKEN_BYTES, writeInvitation } from "@/contract/invitation";
import type { InvitedView, InviteBody } from "@/contract/invitation-view";
import type { Who } from "@/contract/who";
import { type Listening, runningHouse, settings } from "../configuration";
import { accountOf, dropNodeAccount, grantNodeRights, makeNodeAccount, schemaOf } from "../db/node-accounts";
import { type Pool, pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { installation } from "../installation";
import { rootProofFile } from "../join/root-proof";
import { noteDeed } from "../store/deeds";
import { appendEvent } from "../store/events";
import { findInvitation, listInvitations, noteRevoked, saveInvitation } from "../store/invitations";

/** The first address of this machine that others may reach it by. */
function firstAddress(): string {
  const all = Object.values(os.networkInterfaces()).flatMap((addresses) => addresses ?? []);
  return all.find(({ family, internal }) => family === "IPv4" && !internal)?.address ?? "127.0.0.1";
}

/** What the certificate that the database shows is known by. */
const fingerprintOf = ({ certificate }: Listening): string =>
  sha256(new X509Certificate(fs.readFileSync(certificate)).raw);

/** Puts the file of an invitation into a root. @returns its hash */
function proveRoot(root: string, folder: string, name: string): string {
  const secret = crypto.randomBytes(TOKEN_BYTES).toString("hex");
  try {
    const file = rootProofFile(folder, name);
    fs.mkdirSync(path.dirname(file), { recursive: true });
    fs.writeFileSync(file, secret);
  } catch (error) {
    const { code = "?" } = error as NodeJS.ErrnoException;
    throw new TallyError("root-unwritable", { root, folder, why: code }).because(error);
  }
  return sha256(Buffer.from(secret));
}

/**
 * Makes the account of a node and what its machine has to know. The key is in what is returned and nowhere else.
 * @throws TallyError `not-listening`, `invited-already`, `accounts-refused`, `root-unwritable`, `root-wrong`
 */
export async function inviteNode(wish: InviteBody, who: Who = null): Promise<Invitation> {
  const { listen } = runningHouse();
  if (listen === undefined || listen === null) throw new TallyError("not-listening");
  const { name, again } = wish;
  const { roots } = settings();
  const stranger = Object.keys(wish.roots).find((root) => !Object.hasOwn(roots, root));
  if (stranger !== undefined)
    throw new TallyError("root-wrong", { message: `There is no root ${stranger} here.` }).at("roots");
  const known = await findInvitation(pool(), name);
  if (known !== null && known.revokedAt === null && !again) throw new TallyError("invited-already", { name });
  const named = Object.keys(wish.roots);
  const shared = named.length > 0 ? named : Object.keys(roots);
  const proofs = Object.fromEntries(shared.map((root) => [root, proveRoot(root, roots[root]!, name)]));
  const token = crypto.randomBytes(TOKEN_BYTES).toString("base64url");
  await makeNodeAccount(pool(), name, token);
  await transact(async (tx) => {
    await saveInvitation(tx, { name, roots: proofs, invitedBy: who });
    await noteDeed(tx, who, "invite", {}, name);
    await appendEvent(tx, "node");
  });
  return {
    name,
    host: wish.address ?? (listen.address === "0.0.0.0" ? firstAddress() : listen.address),
    port: listen.port,
    database: await schemaOf(pool()),
    account: accountOf(name),
    token,
    fingerprint: fingerprintOf(listen),
    version: installation().version,
    roots: Object.fromEntries(shared.map((root) => [root, wish.roots[root] ?? null])),
  };
}

/** The same, as the line to run on the other machine. */
export async function inviteFromPage(wish: InviteBody, who: Who): Promise<InvitedView> {
  return { line: `plain-tally join ${writeInvitation(await inviteNode(wish, who))}` };
}

/**
 * Takes a node's key away and cuts what works with it: it ends with its next heartbeat, and its frames go to others.
 * @throws TallyError `invitation-unknown`
 */
export async function revokeNode(name: string, who: Who = null): Promise<void> {
  if ((await findInvitation(pool(), name)) === null) throw new TallyError("invitation-unknown", { name });
  // First the key: whatever fails after it, nobody comes in with it any more.
  await dropNodeAccount(pool(), name);
  await transact(async (tx) => {
    if (await noteRevoked(tx, name, who)) await noteDeed(tx, who, "revoke", {}, name);
    await appendEvent(tx, "node");
  });
}

/** Accounts that were made by an earlier version get the rights that nodes of this one need. */
export async function renewNodeRights(db: Pool): Promise<void> {
  for (const { name, revokedAt } of await listInvitations(db))
    if (revokedAt === null) await grantNodeRights(db, name);
}
