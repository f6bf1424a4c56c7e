/**
 * Joining the house that has invited this machine: its certificate is held against the fingerprint before any key is told, then
 * the version, then the storage. What comes of it is kept in joined.json, which a node reads.
 */
import fs from "node:fs";
import path from "node:path";
import type { TLSSocket } from "node:tls";
import type { Invitation } from "@/contract/invitation";
import type { JoinedHouse } from "@/contract/joined";
import { joinedFile } from "../configuration";
import { makePool } from "../db/pool";
import { isTurnedOut } from "../db/away";
import { TallyError } from "../errors";
import { sha256 } from "../files/content";
import { installation } from "../installation";
import { installedVersion } from "../store/installed";
import { findInvitation } from "../store/invitations";
import { proveSameRoot } from "./root-proof";

const CONNECT_MS = 10_000;
/** An account that no database has: whoever answers learns nothing. */
const NOBODY = "nobody";

const placeOf = ({ host, port }: Invitation): string => `${host}:${port}`;

/** The certificate that is shown by whoever answers, as PEM. @throws TallyError `join-no-answer` */
async function shownCertificate(invitation: Invitation): Promise<{ pem: string; fingerprint: string }> {
  const { host, port } = invitation;
  const no = (error: unknown): never => {
    const { code, message } = error as { code?: string; message?: string };
    throw new TallyError("join-no-answer", { at: placeOf(invitation), why: code ?? message ?? "?" }).because(
      error,
    );
  };
  const connection = (await import("mysql2")).default.createConnection({
    host,
    port,
    user: NOBODY,
    password: NOBODY,
    connectTimeout: CONNECT_MS,
    ssl: { rejectUnauthorized: false },
  });
  // Nobody is let in, and that is told once TLS stands; without it the same answer is all that there is.
  const told = await new Promise<unknown>((resolve) => {
    connection.once("error", resolve);
    connection.connect(resolve);
  });
  const { stream } = connection as unknown as { stream: TLSSocket };
  const shown = stream.getPeerCertificate?.()?.raw ?? null;
  connection.destroy();
  if (shown === null) return no(told ?? new Error("it shows no certificate"));
  const lines = shown.toString("base64").replace(/.{1,64}/g, "$&\n");
  return {
    pem: `-----BEGIN CERTIFICATE-----\n${lines}-----END CERTIFICATE-----\n`,
    fingerprint: sha256(shown),
  };
}

/** As the driver reads it: it goes on only where exactly this certificate is shown. */
function urlOf({ account, token, host, port, database }: Invitation, pem: string): string {
  const ssl = encodeURIComponent(JSON.stringify({ ca: pem, rejectUnauthorized: true }));
  return `mysql://${account}:${token}@${host.includes(":") ? `[${host}]` : host}:${port}/${database}?ssl=${ssl}`;
}

/** Where each root lies here. @throws TallyError `join-root-unsaid` */
function foldersOf(
  proofs: Readonly<Record<string, string>>,
  brought: Invitation["roots"],
  said: Readonly<Record<string, string>>,
): Record<string, string> {
  return Object.fromEntries(
    Object.keys(proofs).map((root) => {
      const folder = said[root] ?? brought[root] ?? null;
      if (folder === null) throw new TallyError("join-root-unsaid", { root });
      return [root, path.resolve(folder)];
    }),
  );
}

/**
 * Proves all that an invitation says and keeps what a node of this machine needs. Nothing is written before all of it holds.
 * @param said where roots lie here; it goes before what the invitation brings
 * @throws TallyError `join-no-answer`, `join-other-house`, `join-refused`, `other-version`, `join-root-unsaid`,
 * `join-root-unseen`
 */
export async function joinHouse(
  invitation: Invitation,
  said: Readonly<Record<string, string>>,
): Promise<JoinedHouse> {
  const { name } = invitation;
  const shown = await shownCertificate(invitation);
  if (shown.fingerprint !== invitation.fingerprint)
    throw new TallyError("join-other-house", { at: placeOf(invitation) });
  const databaseUrl = urlOf(invitation, shown.pem);
  const pool = makePool(databaseUrl, 1);
  try {
    const here = installation().version;
    const house = (await installedVersion(pool)) ?? invitation.version;
    if (house !== here) throw new TallyError("other-version", { name, here, house });
    const row = await findInvitation(pool, name);
    if (row === null) throw new TallyError("invitation-unknown", { name });
    const roots = foldersOf(row.roots, invitation.roots, said);
    for (const [root, folder] of Object.entries(roots)) proveSameRoot(root, folder, name, row.roots[root]!);
    const joined: JoinedHouse = { name, databaseUrl, roots };
    keep(joined);
    return joined;
  } catch (error) {
    if (isTurnedOut(error)) throw new TallyError("join-refused", { name }).because(error);
    throw error;
  } finally {
    await pool.end();
  }
}

/** Whole or not at all, and for nobody else to read. */
function keep(joined: JoinedHouse): void {
  const file = joinedFile();
  fs.mkdirSync(path.dirname(file), { recursive: true });
  fs.writeFileSync(`${file}.part`, `${JSON.stringify(joined, null, 2)}\n`, { mode: 0o600 });
  fs.renameSync(`${file}.part`, file);
}

/** Forgets the house. @returns false where none was joined */
export function leaveHouse(): boolean {
  const file = joinedFile();
  if (!fs.existsSync(file)) return false;
  fs.rmSync(file);
  return true;
}
