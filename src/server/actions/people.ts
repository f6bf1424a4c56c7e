/** Letting people in, changing what they may do, and turning them out. Somebody must be left who keeps the house. */
import type { ChangePersonBody, NewPersonBody, PersonWithKey } from "@/contract/people";
import type { Who } from "@/contract/who";
import { hashKey, makeKey } from "../access/access-key";
import { type Tx, pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import {
  deletePerson,
  insertPerson,
  lockKeepers,
  personById,
  personByName,
  type PersonRow,
  savePersonKey,
  savePersonRole,
} from "../store/people";

/** @returns with the key, which is told this once. @throws TallyError `person-taken` */
export async function addPerson({ name, role }: NewPersonBody, who: Who): Promise<PersonWithKey> {
  const key = makeKey();
  const id = await insertPerson(pool(), { name, role, keyHash: await hashKey(key), madeBy: who });
  if (id === null) throw new TallyError("person-taken", { name }).at("name");
  return { name, role, key };
}

/** The first one, where there is nobody: without anybody the door stays shut. @returns null where there is somebody */
export async function addFirstKeeper(name: string): Promise<PersonWithKey | null> {
  if ((await transact(lockKeepers)).length > 0) return null;
  const known = await personByName(pool(), name);
  return addPerson({ name: known === null ? name : `${name} (keeper)`, role: "keep-house" }, null);
}

async function requirePerson(tx: Tx, id: number): Promise<PersonRow> {
  const person = await personById(tx, id);
  if (person === null) throw new TallyError("person-unknown");
  return person;
}

/** @throws TallyError `person-last-keeper` */
async function requireAnotherKeeper(tx: Tx, person: PersonRow): Promise<void> {
  const keepers = await lockKeepers(tx);
  if (person.role === "keep-house" && keepers.every((id) => id === person.id))
    throw new TallyError("person-last-keeper", { name: person.name });
}

/** @returns with the key, where another was asked for. @throws TallyError `person-unknown`, `person-last-keeper` */
export async function changePerson(
  id: number,
  { role, newKey }: ChangePersonBody,
): Promise<PersonWithKey | null> {
  const key = makeKey();
  const keyHash = newKey === true ? await hashKey(key) : null;
  return transact(async (tx) => {
    const person = await requirePerson(tx, id);
    if (role !== undefined && role !== "keep-house") await requireAnotherKeeper(tx, person);
    if (role !== undefined) await savePersonRole(tx, id, role);
    if (keyHash === null) return null;
    await savePersonKey(tx, id, keyHash);
    return { name: person.name, role: role ?? person.role, key };
  });
}

/** What is signed in under the name is out at once. @throws TallyError `person-unknown`, `person-last-keeper` */
export const removePerson = (id: number): Promise<void> =>
  transact(async (tx) => {
    const person = await requirePerson(tx, id);
    await requireAnotherKeeper(tx, person);
    await deletePerson(tx, id);
  });

/** @throws TallyError `person-unknown` */
export async function nameOfPerson(id: number): Promise<string> {
  const person = await personById(pool(), id);
  if (person === null) throw new TallyError("person-unknown");
  return person.name;
}

/** @throws TallyError `person-unknown` */
export async function idOfPerson(name: string): Promise<number> {
  const person = await personByName(pool(), name);
  if (person === null) throw new TallyError("person-unknown");
  return person.id;
}
