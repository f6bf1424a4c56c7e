/** What a browser keeps of a session: a long random word. The database has its hash. */
import crypto from "node:crypto";
import { sha256 } from "../files/content";

const TOKEN_BYTES = 32;
/** As long as a session lasts at most (store/sessions.ts). */
const MOST_SECONDS = 14 * 24 * 3_600;

export const SESSION_COOKIE = "plain-tally-session";

export const makeToken = (): string => crypto.randomBytes(TOKEN_BYTES).toString("base64url");
export const hashOfToken = (token: string): string => sha256(Buffer.from(token));

/** What a request brings; null: nothing, or nothing of ours. */
export function tokenOf(request: Request): string | null {
  const cookies = (request.headers.get("cookie") ?? "").split(";").map((pair) => pair.trim());
  const own = cookies.find((pair) => pair.startsWith(`${SESSION_COOKIE}=`))?.slice(SESSION_COOKIE.length + 1);
  return own !== undefined && /^[\w-]{20,100}$/.test(own) ? own : null;
}

/**
 * The header that gives a browser its word, or takes it away.
 * @param isSecure whether pages come by TLS: the word never goes over the network in clear then
 */
export function sessionCookie(token: string | null, isSecure: boolean): string {
  return [
    `${SESSION_COOKIE}=${token ?? ""}`,
    "Path=/",
    "HttpOnly",
    "SameSite=Lax",
    `Max-Age=${token === null ? 0 : MOST_SECONDS}`,
    ...(isSecure ? ["Secure"] : []),
  ].join("; ");
}
