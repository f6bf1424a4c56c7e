/**
 * The door: who asks, and whether they may. Alone on loopback nobody signs in and everybody may do everything; where the pages
 * are reached over a network nothing but the sign-in is to be had without a key. What is asked for beyond looking is noted before
 * it is done, and its answer after (audit-trail.ts).
 */
import { mayDo, ROLE_WORD } from "@/core/access/roles";
import { OPEN_ROUTES, operationOf } from "@/contract/operations";
import type { Who } from "@/contract/who";
import { hashOfToken } from "../access/session-token";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { noteAudit } from "../store/audit";
import { type SignedIn, signedIn, touchSession } from "../store/sessions";
import { RequestPace } from "./request-pace";

/** Whether people have to sign in: the start command says so where it lets others in. */
export const isLocked = (): boolean => process.env.PLAIN_TALLY_HOSTS !== undefined;

/** A viewer that plays asks for 60 pictures a second; whoever clicks, for a few. */
const LOOKING = new RequestPace({ burst: 600, aSecond: 200 });
const DOING = new RequestPace({ burst: 120, aSecond: 20 });

export interface Admission {
  /** Null: nobody has signed in, or has to. */
  readonly person: SignedIn | null;
  /** Number of the line in the audit that waits for the answer; null: it only looks. */
  readonly deed: number | null;
}

/** Who has signed in with what the browser brings. */
export async function personOf(token: string | null): Promise<SignedIn | null> {
  if (token === null) return null;
  const hash = hashOfToken(token);
  const person = await signedIn(pool(), hash);
  if (person !== null) await touchSession(pool(), hash);
  return person;
}

/**
 * Lets a request in, or not.
 * @param given the name that whoever asks has given themselves: it counts only where nobody signs in
 * @throws TallyError `sign-in-needed`, `role-short`, `too-many-requests`
 */
export async function admit(
  method: string,
  pathname: string,
  token: string | null,
  given: Who,
): Promise<Admission> {
  const { key, needs } = operationOf(method, pathname);
  // Looking leaves no trace, or the audit would be about nothing else.
  const isLook = needs === "look" || method === "GET" || method === "HEAD";
  const isOpen = OPEN_ROUTES.has(key);
  if (!isLocked())
    return {
      person: null,
      deed:
        isLook || isOpen
          ? null
          : await noteAudit(pool(), { who: given, role: null, did: key, what: pathname }),
    };
  const person = await personOf(token);
  if (isOpen) return { person, deed: null };
  if (person === null) throw new TallyError("sign-in-needed");
  if (!(isLook ? LOOKING : DOING).allows(person.name, performance.now()))
    throw new TallyError("too-many-requests");
  const { name, role } = person;
  if (!mayDo(role, needs)) {
    await noteAudit(pool(), { who: name, role, did: key, what: pathname, status: 403 });
    throw new TallyError("role-short", { role: ROLE_WORD[role], needs: ROLE_WORD[needs] });
  }
  return {
    person,
    deed: isLook ? null : await noteAudit(pool(), { who: name, role, did: key, what: pathname }),
  };
}
