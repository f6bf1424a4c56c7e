/** Signing in and out. Wrong tries are slow, counted and told in the audit; which part was wrong is told to nobody. */
import pLimit from "p-limit";
import type { SignInBody } from "@/contract/people";
import { isKeyOf } from "../access/access-key";
import { hashOfToken, makeToken } from "../access/session-token";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { noteAudit, refusalsOf } from "../store/audit";
import { personByName } from "../store/people";
import { beginSession, endSession, signedIn } from "../store/sessions";

/** So many wrong tries under one name in so many minutes; then none is looked at until they are past. */
const MOST_TRIES = 8;
const WITHIN_MINUTES = 15;

/** One try after the other: many at once would all be counted before the first was found wrong. */
const oneByOne = pLimit(1);
const MOST_WAITING = 20;

/** @returns what the browser keeps. @throws TallyError `sign-in-wrong`, `sign-in-slow` */
export async function signIn(body: SignInBody): Promise<string> {
  if (oneByOne.pendingCount >= MOST_WAITING) throw new TallyError("sign-in-slow", { minutes: 1 });
  return oneByOne(() => tryKey(body));
}

async function tryKey({ name, key }: SignInBody): Promise<string> {
  if ((await refusalsOf(pool(), name, WITHIN_MINUTES)) >= MOST_TRIES)
    throw new TallyError("sign-in-slow", { minutes: WITHIN_MINUTES });
  const person = await personByName(pool(), name);
  if (!(await isKeyOf(key.trim(), person?.keyHash ?? null)) || person === null) {
    await noteAudit(pool(), { who: name, role: null, did: "was not let in", what: "", status: 401 });
    throw new TallyError("sign-in-wrong");
  }
  const token = makeToken();
  await transact(async (tx) => {
    await beginSession(tx, hashOfToken(token), person.id);
    await noteAudit(tx, { who: person.name, role: person.role, did: "signed in", what: "", status: 200 });
  });
  return token;
}

export const signOut = (token: string): Promise<void> =>
  transact(async (tx) => {
    const person = await signedIn(tx, hashOfToken(token));
    if (person === null) return;
    const { name: who, role } = person;
    await endSession(tx, hashOfToken(token));
    await noteAudit(tx, { who, role, did: "signed out", what: "", status: 200 });
  });
