/** Which version of the program the house runs. Whoever brings the database up to date writes it. */
import { type Db, row, write } from "../db/rows";

export async function noteInstalled(db: Db, version: string): Promise<void> {
  await write(db, "REPLACE INTO installed (one, version) VALUES (1, ?)", [version]);
}

/** Null: nobody has written it yet. */
export const installedVersion = async (db: Db): Promise<string | null> =>
  (await row<{ version: string }>(db, "SELECT version FROM installed"))?.version ?? null;
