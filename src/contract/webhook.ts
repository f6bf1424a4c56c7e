/**
 * What is told to addresses that the configuration names, when something has happened. Signed after the open specification
 * "Standard Webhooks": headers `webhook-id`, `webhook-timestamp` and `webhook-signature`, HMAC-SHA256 over `id.timestamp.body`.
 */
import { BOUNDS } from "./bounds";
import { objectOf } from "./validate";

/** What has happened. */
export const WEBHOOK_ABOUT = ["run.ended", "frame.failed", "finding.opened"] as const;
export type WebhookAbout = (typeof WEBHOOK_ABOUT)[number];

/** An address as the configuration has it. */
export interface DeclaredWebhook {
  readonly url: string;
  /** `whsec_` and base64 of 24 to 64 bytes. */
  readonly secret: string;
  /** Left out: all. */
  readonly about?: readonly WebhookAbout[];
}

/** 24 to 64 bytes, as the specification asks for. */
export const webhookSchema = objectOf<DeclaredWebhook>(
  {
    url: { type: "string", maxLength: BOUNDS.path, pattern: "^https?://[^\\s@]+$" },
    secret: { type: "string", pattern: "^whsec_[A-Za-z0-9+/]{32,86}={0,2}$" },
    about: { type: "array", items: { enum: WEBHOOK_ABOUT }, minItems: 1, uniqueItems: true },
  },
  ["url", "secret"],
);

/** One that is told, as the page shows it. */
export interface WebhookView {
  readonly name: string;
  /** Without what follows the host: that may be a secret. */
  readonly host: string;
  readonly about: readonly WebhookAbout[];
  readonly waiting: number;
  /** Milliseconds since 1970; null: it has heard nothing yet. */
  readonly heardAt: number | null;
  /** Why it did not hear the last one that was told; null: it did. */
  readonly fault: string | null;
}
