/** All tables of a database as they are, and what must be the same of them after the tally was rebuilt. */
import { NOT_IN_RECORDS } from "@/server/db/record-tables";
import { pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";

/** What may differ: signs of life, leases and progress, and when a migration was applied. */
const MAY_DIFFER: ReadonlySet<string> = new Set([
  "node.seen_at",
  "node.takes",
  "task.token",
  "task.lease_until",
  "task.progress",
  "task.not_before",
  "task.reserved_node_id",
  "handover.token",
  "handover.lease_until",
  "handover.progress",
  "schema_migration.applied_at",
]);
/**
 * News of a day, which pages have heard, what the records know of themselves, what pictures say again when they are measured,
 * what a batch system has, what webhooks were told, and which version is installed.
 */
const NO_TALLY: ReadonlySet<string> = new Set(
  NOT_IN_RECORDS.filter((name) =>
    /^(?:event|installed|dispatch|array_job|webhook.*|record_.*|.*measure.*)$/.test(name),
  ),
);

/** Rows by table, each as text without what may differ, in one order. */
export type Dump = ReadonlyMap<string, readonly string[]>;

export async function dumpTables(): Promise<Dump> {
  const tables = await rows<{ name: string }>(
    pool(),
    "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() ORDER BY 1",
  );
  const dump = new Map<string, readonly string[]>();
  for (const { name } of tables) {
    if (NO_TALLY.has(name)) continue;
    const found = await rows<Record<string, unknown>>(pool(), `SELECT * FROM \`${name}\``);
    const texts = found.map((r) =>
      JSON.stringify(Object.fromEntries(Object.entries(r).filter(([c]) => !MAY_DIFFER.has(`${name}.${c}`)))),
    );
    dump.set(name, texts.sort());
  }
  return dump;
}

/** Rows that are in one of two and not in the other, with their table; none where they are the same. */
export function differencesOf(before: Dump, after: Dump): readonly string[] {
  const found: string[] = [];
  for (const name of new Set([...before.keys(), ...after.keys()])) {
    const [was, is] = [new Set(before.get(name)), new Set(after.get(name))];
    for (const text of was) if (!is.has(text)) found.push(`- ${name} ${text}`);
    for (const text of is) if (!was.has(text)) found.push(`+ ${name} ${text}`);
  }
  return found;
}
