/** What came of a deed: the door has noted what was asked for, and says by a header of its own which line of the audit it is. */
import { headers } from "next/headers";
import { pool } from "../db/pool";
import { noteAnswer, noteWhat } from "../store/audit";

/** From the door to the handler; whatever a browser sends under this name is thrown away. */
export const DEED_HEADER = "x-plain-tally-deed";

async function deedNow(): Promise<number | null> {
  const deed = (await headers()).get(DEED_HEADER);
  return deed === null ? null : Number(deed);
}

/** Says whom or what it was about, where the address does not. */
export async function noteAbout(what: string): Promise<void> {
  const deed = await deedNow();
  if (deed !== null) await noteWhat(pool(), deed, what);
}

/** Never in the way of the answer: what cannot be noted is noted as unanswered. */
export async function noteStatus(status: number): Promise<void> {
  try {
    const deed = await deedNow();
    if (deed !== null) await noteAnswer(pool(), deed, status);
  } catch {
    // Nobody asked by HTTP, or the database is away.
  }
}
