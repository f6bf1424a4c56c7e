/**
 * Tells addresses of the configuration what has happened. What is to be told was noted in the transaction in which it happened;
 * here it is completed, signed and sent, again and again until it is heard or two days are over. Told at least once: whoever hears
 * knows a second time by its `webhook-id`.
 */
import { type DeclaredWebhook, WEBHOOK_ABOUT, type WebhookAbout } from "@/contract/webhook";
import { versionName } from "@/core/plan/plan";
import { readConfiguration } from "../configuration";
import { isDatabaseAway } from "../db/away";
import { withHouseLock } from "../db/house-lock";
import type { Pool } from "../db/pool";
import { endedRun } from "../queue/run-end";
import { failedAttempt } from "../store/attempts";
import { sequenceById } from "../store/shots";
import {
  closeCall,
  type DueCall,
  dueCalls,
  noteUnheard,
  removeOldCalls,
  saveWebhooks,
  type WebhookFacts,
} from "../store/webhooks";
import { signature } from "./signature";

const EVERY_MS = 2_000;
/** Of one look: what is left comes with the next. */
const AT_ONCE = 50;
const PATIENCE_MS = 10_000;
/** Before the second try, the third, and so on; then it is given up. */
const AGAIN_SECONDS = [5, 30, 300, 1_800, 7_200, 21_600, 43_200, 86_400];
const KEPT_DAYS = 30;

/** A message as it is sent. */
export interface Told {
  readonly type: WebhookAbout | "test";
  /** When it happened, ISO 8601. */
  readonly timestamp: string;
  readonly data: Readonly<Record<string, unknown>>;
}

/** What each kind says; null: what it is about is gone. */
const SAYS: {
  readonly [A in WebhookAbout]: (pool: Pool, facts: WebhookFacts[A]) => Promise<Told["data"] | null>;
} = {
  "run.ended": async (pool, { run }) => {
    const ended = await endedRun(pool, run);
    return ended === null ? null : { ...ended };
  },
  "frame.failed": async (pool, { attempt }) => {
    const failed = await failedAttempt(pool, attempt);
    const sequence = failed === null ? null : await sequenceById(pool, failed.sequenceId);
    if (failed === null || sequence === null) return null;
    const { run, frame, node, code, message } = failed;
    const { shot, camera } = sequence;
    return { run, shot, version: versionName(sequence), camera, frame, node, code, message };
  },
  "finding.opened": async (pool, { sequence: id, frame, source, code, text }) => {
    const sequence = await sequenceById(pool, id);
    if (sequence === null) return null;
    const { shot, camera, pass } = sequence;
    return { shot, version: versionName(sequence), camera, pass, frame, foundBy: source, code, text };
  },
};

const sayOf = ({ about, facts }: DueCall, pool: Pool): Promise<Told["data"] | null> =>
  // The facts are those of its kind: they were written together.
  (SAYS[about] as (pool: Pool, facts: DueCall["facts"]) => Promise<Told["data"] | null>)(pool, facts);

/** Why it was not heard; null: it was. Where it sends us on to is not gone to: that address nobody has named. */
export async function tell({ url, secret }: DeclaredWebhook, id: string, told: Told): Promise<string | null> {
  const body = JSON.stringify(told);
  const seconds = Math.floor(Date.now() / 1000);
  try {
    const answer = await fetch(url, {
      method: "POST",
      redirect: "manual",
      signal: AbortSignal.timeout(PATIENCE_MS),
      headers: {
        "content-type": "application/json",
        "user-agent": "plain-tally",
        "webhook-id": id,
        "webhook-timestamp": String(seconds),
        "webhook-signature": signature(secret, id, seconds, body),
      },
      body,
    });
    await answer.body?.cancel();
    return answer.ok ? null : `it answered ${answer.status}`;
  } catch (error) {
    const { cause, message } = error as Error & { readonly cause?: { readonly message?: string } };
    return cause?.message ?? message;
  }
}

async function tellOne(pool: Pool, call: DueCall, webhook: DeclaredWebhook): Promise<void> {
  const data = await sayOf(call, pool);
  if (data === null) return closeCall(pool, call.id, false);
  const told = { type: call.about, timestamp: call.at.toISOString(), data } as const;
  const fault = await tell(webhook, `tally_${call.id}_${call.at.getTime()}`, told);
  if (fault === null) await closeCall(pool, call.id, true);
  else await noteUnheard(pool, call.id, fault, AGAIN_SECONDS[call.tries] ?? null);
}

const declared = (): Readonly<Record<string, DeclaredWebhook>> => readConfiguration().webhooks ?? {};

/** Registers those of the configuration, and tells what is due. One process of the house does it at a time. */
export async function tellWebhooks(pool: Pool): Promise<void> {
  const connection = await pool.getConnection();
  try {
    await withHouseLock(connection, "webhooks", 0, async () => {
      const webhooks = declared();
      await saveWebhooks(
        pool,
        Object.entries(webhooks).map(([name, { about = WEBHOOK_ABOUT }]) => ({ name, about })),
      );
      if (Object.keys(webhooks).length === 0) return;
      const calls = await dueCalls(pool, AT_ONCE);
      // One that does not answer keeps nobody else waiting.
      await Promise.all(
        Object.entries(webhooks).map(async ([name, webhook]) => {
          for (const call of calls) if (call.webhook === name) await tellOne(pool, call, webhook);
        }),
      );
      if (calls.length > 0) await removeOldCalls(pool, KEPT_DAYS);
    });
  } finally {
    connection.release();
  }
}

/** Now and again. @param say hears what went wrong; the next look is another try. @returns ends it */
export function tellWebhooksByTheClock(pool: () => Pool, say: (error: unknown) => void): () => void {
  let isAt: Promise<unknown> | null = null;
  let known = "";
  const look = async (): Promise<void> => {
    // Where none is named, and none was, nothing is asked of the database.
    const now = JSON.stringify(declared());
    if (now === "{}" && known === now) return;
    await tellWebhooks(pool());
    known = now;
  };
  const timer = setInterval(() => {
    isAt ??= look()
      .catch((error: unknown) => isDatabaseAway(error) || say(error))
      .finally(() => (isAt = null));
  }, EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}
