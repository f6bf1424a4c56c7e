/** Who may sign in, and who has. Keys and signs of browsers are here as hashes alone. */
import type { PersonView } from "@/contract/people";
import type { Who } from "@/contract/who";
import type { Role } from "@/core/access/roles";
import { type Db, row, rows, write } from "../db/rows";

export interface PersonRow {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  readonly keyHash: string;
}

/** By name. */
export const listPeople = async (db: Db): Promise<PersonView[]> =>
  (
    await rows<{
      id: number;
      name: string;
      role: Role;
      madeAt: Date;
      madeBy: Who;
      seenAt: Date | null;
    }>(
      db,
      `SELECT p.id, p.name, p.role, p.made_at AS madeAt, p.made_by AS madeBy,
          (SELECT MAX(s.seen_at) FROM session s WHERE s.person_id = p.id) AS seenAt
        FROM person p
        ORDER BY p.name`,
    )
  ).map(({ madeAt, seenAt, ...person }) => ({
    ...person,
    madeAt: madeAt.getTime(),
    seenAt: seenAt?.getTime() ?? null,
  }));

const COLUMNS = "id, name, role, key_hash AS keyHash";

export const personByName = (db: Db, name: string): Promise<PersonRow | null> =>
  row<PersonRow>(db, `SELECT ${COLUMNS} FROM person WHERE name = ?`, [name]);

export const personById = (db: Db, id: number): Promise<PersonRow | null> =>
  row<PersonRow>(db, `SELECT ${COLUMNS} FROM person WHERE id = ?`, [id]);

/** Locks those who keep the house, so that of two who go the last one is told. */
export const lockKeepers = async (db: Db): Promise<number[]> =>
  (await rows<{ id: number }>(db, "SELECT id FROM person WHERE role = 'keep-house' FOR UPDATE")).map(
    ({ id }) => id,
  );

/** @returns null where somebody has that name */
export async function insertPerson(
  db: Db,
  { name, role, keyHash, madeBy }: Omit<PersonRow, "id"> & { readonly madeBy: Who },
): Promise<number | null> {
  const { id, matched } = await write(
    db,
    "INSERT IGNORE INTO person (name, role, key_hash, made_by) VALUES (?, ?, ?, ?)",
    [name, role, keyHash, madeBy],
  );
  return matched === 1 ? id : null;
}

export async function savePersonRole(db: Db, id: number, role: Role): Promise<void> {
  await write(db, "UPDATE person SET role = ? WHERE id = ?", [role, id]);
}

/** Another key; what is signed in with the one before is out. */
export async function savePersonKey(db: Db, id: number, keyHash: string): Promise<void> {
  await write(db, "UPDATE person SET key_hash = ? WHERE id = ?", [keyHash, id]);
  await write(db, "DELETE FROM session WHERE person_id = ?", [id]);
}

/** With what is signed in. */
export async function deletePerson(db: Db, id: number): Promise<void> {
  await write(db, "DELETE FROM person WHERE id = ?", [id]);
}
