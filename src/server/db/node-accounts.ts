/**
 * Accounts of the database for nodes that come over the network: one each, only with TLS, with the rights of a node. The
 * database keeps their keys, hashed. Statements of accounts commit by themselves and take no marks: names are checked before.
 */
import { isMachineName } from "@/core/naming/name";
import { TallyError } from "../errors";
import { NODE_RIGHTS } from "./node-rights";
import { type Db, row, write } from "./rows";

/** Denied: accounts, a schema, a table (mariadb error codes 1227, 1044, 1142, 1410). */
const DENIED = new Set([1227, 1044, 1142, 1410]);

/** As the database calls it. */
export const accountOf = (name: string): string => `node-${name}`;

/** @throws Error for what is no name of a node: it becomes part of a statement */
function quoted(name: string): string {
  if (!isMachineName(name)) throw new Error(`"${name}" is no name of a node`);
  return `'${accountOf(name)}'@'%'`;
}

/** @throws TallyError `accounts-refused` */
async function ask(db: Db, statement: string): Promise<void> {
  try {
    await write(db, statement);
  } catch (error) {
    const { errno, message } = error as { errno?: number; message?: string };
    if (errno !== undefined && DENIED.has(errno))
      throw new TallyError("accounts-refused", { why: message ?? String(errno) }).because(error);
    throw error;
  }
}

/** Name of the schema that is in use. */
export const schemaOf = async (db: Db): Promise<string> =>
  (await row<{ name: string }>(db, "SELECT DATABASE() AS name"))!.name;

/** Gives an account the rights of a node of this version. Those that it has stay. */
export async function grantNodeRights(db: Db, name: string): Promise<void> {
  const schema = await schemaOf(db);
  for (const [table, rights] of Object.entries(NODE_RIGHTS))
    await ask(
      db,
      `GRANT ${["SELECT", ...rights].join(", ")} ON \`${schema}\`.\`${table}\` TO ${quoted(name)}`,
    );
}

/**
 * Makes the account, or gives it another key; whoever works with the one before is cut off.
 * @param token letters, digits, - and _ alone
 * @throws TallyError `accounts-refused`
 */
export async function makeNodeAccount(db: Db, name: string, token: string): Promise<void> {
  if (!/^[0-9A-Za-z_-]+$/.test(token)) throw new Error("a token has letters, digits, - and _ alone");
  await cutOff(db, name);
  await ask(db, `CREATE OR REPLACE USER ${quoted(name)} IDENTIFIED BY '${token}' REQUIRE SSL`);
  await grantNodeRights(db, name);
}

/** Takes the account away, and cuts its connections. @throws TallyError `accounts-refused` */
export async function dropNodeAccount(db: Db, name: string): Promise<void> {
  await cutOff(db, name);
  await ask(db, `DROP USER IF EXISTS ${quoted(name)}`);
}

/**
 * Ends its connections, and lets no other come: an account that is gone keeps those that it has, and what they ask is refused
 * table by table, as if a right were missing.
 */
async function cutOff(db: Db, name: string): Promise<void> {
  await ask(db, `ALTER USER IF EXISTS ${quoted(name)} ACCOUNT LOCK`);
  await ask(db, `KILL CONNECTION USER ${quoted(name)}`);
}
