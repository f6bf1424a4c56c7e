/**
 * Before every request: only pages of this server may talk to it, and nothing but this server's own
 * programs runs in them. Other sites reach a loopback server through the browser: by a request that they send,
 * by a picture or a form that they show, by a frame around a page. Each of these doors is shut here; who may do what
 * is asked for is decided at `server/http/door.ts`.
 */
import { NextResponse, type NextRequest } from "next/server";
import { WHO_HEADER } from "@/contract/who";
import { tokenOf } from "@/server/access/session-token";
import { TallyError } from "@/server/errors";
import { DEED_HEADER } from "@/server/http/audit-trail";
import { type Admission, admit, isLocked } from "@/server/http/door";
import { errorResponse, whoOf } from "@/server/http/respond";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;
/** Names and addresses with the port, by which others reach the pages; they come by TLS. */
const ownHosts = (): ReadonlySet<string> =>
  new Set((process.env.PLAIN_TALLY_HOSTS ?? "").split(",").filter((host) => host !== ""));
/** What is built and the same for everybody: scripts, styles, letters. */
const ASSETS = /^\/(_next\/static\/|favicon\.ico$)/;
/** What a body may be: JSON, or the bytes of a file. No form of another site can send either without asking. */
const BODY_TYPES = /^application\/(json|octet-stream)\s*(;|$)/i;
/** What a browser says of a request that a page of ours, or a person, has asked for. */
const OWN_SITES: ReadonlySet<string> = new Set(["same-origin", "none"]);
const NONCE_BYTES = 16;
const SEE_OTHER = 303;

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

/** The name that was given, or none where it is wrong: the handler tells that. */
function givenName(request: Request): ReturnType<typeof whoOf> {
  try {
    return whoOf(request);
  } catch {
    return null;
  }
}

/** With the way back to what was wanted. */
function signInPage({ nextUrl, url }: NextRequest): URL {
  const page = new URL("/sign-in", url);
  page.searchParams.set("to", nextUrl.pathname + nextUrl.search);
  return page;
}

export async function proxy(request: NextRequest): Promise<NextResponse> {
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
  const isOwnHost = ownHosts().has(host);
  if (!isOwnHost && !LOOPBACK.test(host))
    return refuse(403, "foreign-page", "This server does not answer to that name.");
  if (origin !== null && origin !== `${isOwnHost ? "https" : "http"}://${host}`) return foreign();
  // A link may lead here from anywhere; what is asked of the server itself, by picture, script or form, may not.
  const isPage = request.headers.get("sec-fetch-dest") === "document" && request.method === "GET";
  const isAsked = request.nextUrl.pathname.startsWith("/api/");
  if (site !== null && !OWN_SITES.has(site) && (isAsked || !isPage)) return foreign();
  if (!isReadable(request.nextUrl.pathname))
    return refuse(400, "address-wrong", "This address cannot be read.");
  const type = request.headers.get("content-type");
  if (isAsked && type !== null && !BODY_TYPES.test(type))
    return refuse(415, "body-type", "What is sent must be JSON, or the bytes of a file.");
  const { pathname } = request.nextUrl;
  let admission: Admission = { person: null, deed: null };
  if (!ASSETS.test(pathname))
    try {
      admission = await admit(request.method, pathname, tokenOf(request), givenName(request));
    } catch (error) {
      if (!isAsked && error instanceof TallyError && error.code === "sign-in-needed")
        return guarded(NextResponse.redirect(signInPage(request), SEE_OTHER));
      const told = errorResponse(error);
      return guarded(new NextResponse(told.body, { status: told.status, headers: told.headers }));
    }
  const headers = new Headers(request.headers);
  headers.delete(DEED_HEADER);
  if (admission.deed !== null) headers.set(DEED_HEADER, String(admission.deed));
  // Under which name people act is known once they have signed in, and not theirs to say.
  if (isLocked()) {
    headers.delete(WHO_HEADER);
    if (admission.person !== null) headers.set(WHO_HEADER, encodeURIComponent(admission.person.name));
  }
  // The pages take the sign for their own inline scripts from here.
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  return guarded(NextResponse.next({ request: { headers } }));
}
