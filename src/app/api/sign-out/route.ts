/** Goes. */
import { sessionCookie, tokenOf } from "@/server/access/session-token";
import { signOut } from "@/server/actions/sign-in";
import { isLocked } from "@/server/http/door";
import { respond } from "@/server/http/respond";

/** Body: none. What the browser has is good for nothing afterwards. */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const token = tokenOf(request);
    if (token !== null) await signOut(token);
    return Response.json({ ok: true }, { headers: { "set-cookie": sessionCookie(null, isLocked()) } });
  });
}
