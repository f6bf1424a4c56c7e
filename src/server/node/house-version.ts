/** A node works for a house that runs the same program alone: what others write it may not understand. */
import type { Pool } from "../db/pool";
import { TallyError } from "../errors";
import { installedVersion } from "../store/installed";

/** @throws TallyError `other-version` */
export async function requireHouseVersion(
  pool: Pool,
  { name, version: here }: { readonly name: string; readonly version: string },
): Promise<void> {
  const house = await installedVersion(pool);
  if (house !== null && house !== here) throw new TallyError("other-version", { name, here, house });
}
