/**
 * Before every request: only pages of this machine may talk to the server. Stops other sites from reaching a
 * loopback server through the browser.
 */
import { NextResponse, type NextRequest } from "next/server";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host") ?? "";
  const origin = request.headers.get("origin");
  const refuse = (message: string): NextResponse =>
    NextResponse.json({ error: { code: "foreign-page", message, faults: [] } }, { status: 403 });
  if (!LOOPBACK.test(host)) return refuse("This server answers on 127.0.0.1 only.");
  if (origin !== null && origin !== `http://${host}`) return refuse("This request came from another site.");
  return NextResponse.next();
}
