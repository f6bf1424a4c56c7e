/**
 * Before every request: only pages of this machine may talk to the server, and nothing but this server's own
 * programs runs in them. Other sites reach a loopback server through the browser: by a request that they send,
 * by a picture or a form that they show, by a frame around a page. Each of these doors is shut here.
 */
import { NextResponse, type NextRequest } from "next/server";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;
/** What a browser says of a request that a page of ours, or a person, has asked for. */
const OWN_SITES: ReadonlySet<string> = new Set(["same-origin", "none"]);
const NONCE_BYTES = 16;

/** Whether the address is text when its signs are read: what is none is refused before anybody reads it. */
function isReadable(address: string): boolean {
  try {
    return !decodeURIComponent(address).includes("\0");
  } catch {
    return false;
  }
}

/**
 * What may run and be loaded in a page. Scripts are those of this server, and the few inline ones bear a sign
 * that is made anew for each answer; compiled code of theirs may run, texts may not be evaluated. Styles may be inline, for
 * Emotion writes them.
 */
function policyOf(nonce: string): string {
  // Hot reload evaluates texts and listens on a socket of its own.
  const isDev = process.env.NODE_ENV === "development";
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${isDev ? " 'unsafe-eval'" : ""}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    `connect-src 'self'${isDev ? " ws:" : ""}`,
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
}

export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(NONCE_BYTES))));
  const policy = policyOf(nonce);
  const guarded = (response: NextResponse): NextResponse => {
    response.headers.set("content-security-policy", policy);
    response.headers.set("x-content-type-options", "nosniff");
    response.headers.set("referrer-policy", "same-origin");
    response.headers.set("cross-origin-resource-policy", "same-origin");
    return response;
  };
  const refuse = (status: number, code: string, message: string): NextResponse =>
    guarded(NextResponse.json({ error: { code, message, faults: [] } }, { status }));
  const foreign = (): NextResponse => refuse(403, "foreign-page", "This request came from another site.");
  const host = request.headers.get("host") ?? "";
  const origin = request.headers.get("origin");
  const site = request.headers.get("sec-fetch-site");
  if (!LOOPBACK.test(host)) return refuse(403, "foreign-page", "This server answers on 127.0.0.1 only.");
  if (origin !== null && origin !== `http://${host}`) return foreign();
  // A link may lead here from anywhere; what is asked of the server itself, by picture, script or form, may not.
  const isPage = request.headers.get("sec-fetch-dest") === "document" && request.method === "GET";
  const isAsked = request.nextUrl.pathname.startsWith("/api/");
  if (site !== null && !OWN_SITES.has(site) && (isAsked || !isPage)) return foreign();
  if (!isReadable(request.nextUrl.pathname))
    return refuse(400, "address-wrong", "This address cannot be read.");
  const headers = new Headers(request.headers);
  // The pages take the sign for their own inline scripts from here.
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  return guarded(NextResponse.next({ request: { headers } }));
}
