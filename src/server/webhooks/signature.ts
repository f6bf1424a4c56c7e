/** The signature of a message, after the open specification "Standard Webhooks" 1.0: its symmetric scheme, `v1`. */
import crypto from "node:crypto";

const PREFIX = "whsec_";

/**
 * @param secret `whsec_` and base64
 * @param seconds since 1970: whoever hears it refuses what is old
 * @param body as it is sent, to the letter
 */
export function signature(secret: string, id: string, seconds: number, body: string): string {
  const key = Buffer.from(secret.slice(PREFIX.length), "base64");
  return `v1,${crypto.createHmac("sha256", key).update(`${id}.${seconds}.${body}`).digest("base64")}`;
}
