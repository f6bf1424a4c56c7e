/** One who may sign in. */
import { checkChangePerson } from "@/contract/people";
import { changePerson, nameOfPerson, removePerson } from "@/server/actions/people";
import { noteAbout } from "@/server/http/audit-trail";
import { idOf, readBody, respond } from "@/server/http/respond";

interface Params {
  readonly params: Promise<{ id: string }>;
}

/**
 * Body: another role, another key, or both. Answers a PersonWithKey where there is another key; what was signed in with the first
 * is out.
 * @throws `person-unknown`, `person-last-keeper`
 */
export async function PATCH(request: Request, { params }: Params): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    await noteAbout(await nameOfPerson(idOf(id)));
    return changePerson(idOf(id), await readBody(request, checkChangePerson));
  });
}

/** Body: none. What was signed in is out at once. @throws `person-unknown`, `person-last-keeper` */
export async function DELETE(_request: Request, { params }: Params): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    await noteAbout(await nameOfPerson(idOf(id)));
    return removePerson(idOf(id));
  });
}
