/** Which ledgers this database has written. */
import { type Db, row } from "../db/rows";
import type { ProjectPlace } from "../files/paths";

/** Whether this database has written the ledger of a folder, for a project that is there or was. */
export const isOwnLedger = async (db: Db, { root, folder }: ProjectPlace): Promise<boolean> =>
  (await row(db, "SELECT project_id FROM ledger_file WHERE root = ? AND folder = ? LIMIT 1", [
    root,
    folder,
  ])) !== null;
