/** Which records this database has written. */
import { type Db, row } from "../db/rows";
import type { ProjectPlace } from "../files/paths";

/** Whether this database has written the record of a folder, for a project that is there or was. */
export const isOwnRecord = async (db: Db, { root, folder }: ProjectPlace): Promise<boolean> =>
  (await row(db, "SELECT project_id FROM record_file WHERE root = ? AND folder = ? LIMIT 1", [
    root,
    folder,
  ])) !== null;
