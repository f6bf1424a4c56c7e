/** Who may sign in. */
import { checkNewPerson } from "@/contract/people";
import { addPerson } from "@/server/actions/people";
import { pool } from "@/server/db/pool";
import { noteAbout } from "@/server/http/audit-trail";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { listPeople } from "@/server/store/people";

/** Answers the people, by name. Keys are nowhere to be read. */
export async function GET(): Promise<Response> {
  return respond(async () => ({ people: await listPeople(pool()) }));
}

/** Body: name and role. Answers a PersonWithKey; the key is told this once. @throws `person-taken` */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const body = await readBody(request, checkNewPerson);
    await noteAbout(body.name);
    return addPerson(body, whoOf(request));
  });
}
