/** What webhooks are to hear: noted where it happens, in the same transaction, and told by the server. */
import type { WebhookAbout } from "@/contract/webhook";
import { type Db, fromJson, marks, row, rows, write } from "../db/rows";

/** What whoever notes it knows; the rest is read when it is told. */
export interface WebhookFacts {
  readonly "run.ended": { readonly run: number };
  readonly "frame.failed": { readonly attempt: number };
  readonly "finding.opened": {
    readonly sequence: number;
    readonly frame: number;
    readonly source: string;
    readonly code: string;
    readonly text: string;
  };
}

/** For whoever wants to hear of it; where nobody does, nothing is kept. */
export async function noteForWebhooks<A extends WebhookAbout>(
  db: Db,
  about: A,
  all: readonly WebhookFacts[A][],
): Promise<void> {
  if (all.length === 0) return;
  const wanting = await rows<{ name: string }>(
    db,
    "SELECT name FROM webhook WHERE JSON_CONTAINS(about, JSON_QUOTE(?))",
    [about],
  );
  for (const { name } of wanting)
    for (const facts of all)
      await write(db, "INSERT INTO webhook_call (webhook, about, facts) VALUES (?, ?, ?)", [
        name,
        about,
        JSON.stringify(facts),
      ]);
}

/** Those that the configuration names now; what others were to hear goes with them. */
export async function saveWebhooks(
  db: Db,
  wanted: readonly { readonly name: string; readonly about: readonly WebhookAbout[] }[],
): Promise<void> {
  const known = await rows<{ name: string; about: unknown }>(
    db,
    "SELECT name, about FROM webhook ORDER BY name",
  );
  const gone = known.filter(({ name }) => !wanted.some((w) => w.name === name)).map(({ name }) => name);
  if (gone.length > 0) {
    await write(db, `DELETE FROM webhook_call WHERE webhook IN ${marks(gone)}`, gone);
    await write(db, `DELETE FROM webhook WHERE name IN ${marks(gone)}`, gone);
  }
  for (const { name, about } of wanted) {
    const before = known.find((k) => k.name === name);
    if (before !== undefined && JSON.stringify(fromJson(before.about)) === JSON.stringify(about)) continue;
    await write(db, "REPLACE INTO webhook (name, about) VALUES (?, ?)", [name, JSON.stringify(about)]);
  }
}

export interface DueCall {
  readonly id: number;
  readonly webhook: string;
  readonly about: WebhookAbout;
  readonly facts: WebhookFacts[WebhookAbout];
  readonly at: Date;
  /** That failed. */
  readonly tries: number;
}

/** The oldest that are due. */
export const dueCalls = async (db: Db, most: number): Promise<DueCall[]> =>
  (
    await rows<Omit<DueCall, "facts"> & { readonly facts: unknown }>(
      db,
      `SELECT id, webhook, about, facts, at, tries
        FROM webhook_call
        WHERE closed_at IS NULL AND next_at <= NOW(3)
        ORDER BY next_at, id
        LIMIT ?`,
      [most],
    )
  ).map((call) => ({ ...call, facts: fromJson(call.facts) }));

/** It was heard, or is told no more: what it was about is gone. */
export async function closeCall(db: Db, id: number, isHeard: boolean): Promise<void> {
  await write(db, "UPDATE webhook_call SET closed_at = NOW(3), heard = ?, fault = NULL WHERE id = ?", [
    isHeard,
    id,
  ]);
}

/** @param againSeconds null: it is given up */
export async function noteUnheard(
  db: Db,
  id: number,
  fault: string,
  againSeconds: number | null,
): Promise<void> {
  await write(
    db,
    `UPDATE webhook_call
      SET tries = tries + 1, fault = ?, next_at = NOW(3) + INTERVAL COALESCE(?, 0) SECOND,
        closed_at = IF(? IS NULL, NOW(3), NULL)
      WHERE id = ?`,
    [fault.slice(0, 300), againSeconds, againSeconds, id],
  );
}

/** Those that are over, and older. */
export const removeOldCalls = async (db: Db, days: number): Promise<number> =>
  (await write(db, "DELETE FROM webhook_call WHERE closed_at < NOW(3) - INTERVAL ? DAY LIMIT 10000", [days]))
    .matched;

export interface WebhookState {
  readonly waiting: number;
  readonly heardAt: Date | null;
  readonly fault: string | null;
}

export async function stateOfWebhook(db: Db, name: string): Promise<WebhookState> {
  const found = await row<{ waiting: number; heardAt: Date | null }>(
    db,
    `SELECT COALESCE(SUM(closed_at IS NULL), 0) + 0e0 AS waiting, MAX(IF(heard = 1, closed_at, NULL)) AS heardAt
      FROM webhook_call
      WHERE webhook = ?`,
    [name],
  );
  const last = await row<{ fault: string | null }>(
    db,
    "SELECT fault FROM webhook_call WHERE webhook = ? AND (tries > 0 OR closed_at IS NOT NULL) ORDER BY id DESC LIMIT 1",
    [name],
  );
  return { waiting: found?.waiting ?? 0, heardAt: found?.heardAt ?? null, fault: last?.fault ?? null };
}
