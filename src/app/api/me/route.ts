/** Who asks, and whether people have to sign in. */
import type { MeView } from "@/contract/people";
import { tokenOf } from "@/server/access/session-token";
import { isLocked, personOf } from "@/server/http/door";
import { respond } from "@/server/http/respond";

/** Answers a MeView; open to everybody. */
export async function GET(request: Request): Promise<Response> {
  return respond(async (): Promise<MeView> => {
    const person = isLocked() ? await personOf(tokenOf(request)) : null;
    return { isLocked: isLocked(), name: person?.name ?? null, role: person?.role ?? null };
  });
}
