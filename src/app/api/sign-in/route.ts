/** Comes in with a name and a key. */
import { checkSignIn } from "@/contract/people";
import { sessionCookie } from "@/server/access/session-token";
import { signIn } from "@/server/actions/sign-in";
import { isLocked } from "@/server/http/door";
import { readBody, respond } from "@/server/http/respond";

/** Body: name and key. The browser gets a word that no program of the page can read. @throws `sign-in-wrong`, `sign-in-slow` */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const token = await signIn(await readBody(request, checkSignIn));
    return Response.json({ ok: true }, { headers: { "set-cookie": sessionCookie(token, isLocked()) } });
  });
}
