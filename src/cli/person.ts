/** `plain-tally person`, `audit`: who may sign in, and what was done. Whoever may call this at the machine keeps the house. */
import type { PersonWithKey } from "@/contract/people";
import { ROLE_WORD, ROLES, type Role } from "@/core/access/roles";
import { LONGEST_PERSON, nameFault } from "@/core/naming/name";
import { addFirstKeeper, addPerson, changePerson, idOfPerson, removePerson } from "@/server/actions/people";
import { pool } from "@/server/db/pool";
import { auditLines, noteAudit } from "@/server/store/audit";
import { listPeople } from "@/server/store/people";
import { auditCsv, auditText } from "@/server/views/audit";
import { CallWrong, EXIT, type ExitCode, oneOf, print, printJson, wholeNumber } from "./command";
import { whoCalls } from "./who";

interface Told {
  readonly json?: boolean;
}

function requireName(name: string): string {
  const fault = nameFault(name, LONGEST_PERSON);
  if (fault !== null) throw new CallWrong(`the name ${fault}`);
  return name;
}

const readRole = (role: string): Role => oneOf("--role", role, ROLES);

/** What is done here passes no door that would note it. */
const note = async (did: string, name: string): Promise<void> =>
  void (await noteAudit(pool(), { who: whoCalls(), role: null, did, what: name, status: 200 }));

function tellKey({ name, role, key }: PersonWithKey, json: boolean): ExitCode {
  if (json) printJson({ name, role, key });
  else print(`${name} may ${ROLE_WORD[role]}. The key, told this once:  ${key}`);
  return EXIT.fine;
}

export async function personAddCommand(
  name: string,
  { role, json }: Told & { readonly role: string },
): Promise<ExitCode> {
  const added = await addPerson({ name: requireName(name), role: readRole(role) }, whoCalls());
  await note("let a person in", name);
  return tellKey(added, json === true);
}

/** Asked by the start command: says nothing where somebody keeps the house already. */
export async function personFirstCommand(): Promise<ExitCode> {
  const added = await addFirstKeeper(whoCalls() ?? "keeper");
  if (added === null) return EXIT.fine;
  await note("let a person in", added.name);
  return tellKey(added, false);
}

export async function personListCommand({ json }: Told): Promise<ExitCode> {
  const people = await listPeople(pool());
  if (json) printJson(people);
  else for (const { name, role } of people) print(`${name}  ${role}`);
  return EXIT.fine;
}

export async function personChangeCommand(
  name: string,
  { role, newKey, json }: Told & { readonly role?: string; readonly newKey?: boolean },
): Promise<ExitCode> {
  if (role === undefined && newKey !== true) throw new CallWrong("say --role, --new-key, or both");
  const changed = await changePerson(await idOfPerson(name), {
    ...(role === undefined ? {} : { role: readRole(role) }),
    ...(newKey === true ? { newKey } : {}),
  });
  await note("changed what a person may do", name);
  if (changed !== null) return tellKey(changed, json === true);
  if (json) printJson({ name, role });
  else if (role !== undefined) print(`${name} may ${ROLE_WORD[readRole(role)]} now.`);
  return EXIT.fine;
}

export async function personRemoveCommand(name: string): Promise<ExitCode> {
  await removePerson(await idOfPerson(name));
  await note("took a person's key away", name);
  print(`${name} cannot sign in any more, and what was signed in is out.`);
  return EXIT.fine;
}

export async function auditCommand({
  csv,
  last,
  json,
}: Told & { readonly csv?: boolean; readonly last?: string }): Promise<ExitCode> {
  if (csv === true) {
    for await (const part of auditCsv()) process.stdout.write(part);
    return EXIT.fine;
  }
  const lines = await auditLines(pool(), last === undefined ? 50 : wholeNumber(last, "--last", 1));
  if (json) printJson(lines);
  else for (const line of lines) print(auditText(line));
  return EXIT.fine;
}
