/**
 * Leases of handovers: one maker at a time. As with frames, only the database's clock decides when a lease is over, and
 * only under its lock does a file get its name.
 */
import crypto from "node:crypto";
import { type Pool, transact } from "../db/pool";
import { whyOutOfSight } from "../files/project-mark";
import {
  type HandoverLease,
  leaseHandover,
  lockOpenHandover,
  type OpenHandover,
  openHandovers,
} from "../store/handovers";
import { LEASE_SECONDS } from "./lease";

/** @param nodeId null: a command makes it. @returns null where somebody has it by now */
export const claimOneHandover = (
  pool: Pool,
  id: number,
  nodeId: number | null,
  leaseSeconds = LEASE_SECONDS,
): Promise<HandoverLease | null> =>
  transact(async (tx) => {
    const found = await lockOpenHandover(tx, id);
    if (found === null) return null;
    const lease = { id, token: crypto.randomUUID(), count: found.leases + 1 };
    await leaseHandover(tx, lease, nodeId, leaseSeconds);
    return lease;
  }, pool);

/**
 * The next whose project this machine sees; null where there is none.
 * @param isLeft whether another node shall make it
 */
export async function claimHandover(
  pool: Pool,
  nodeId: number,
  leaseSeconds: number,
  isLeft: (open: OpenHandover) => Promise<boolean>,
): Promise<HandoverLease | null> {
  for (const open of await openHandovers(pool)) {
    if ((await whyOutOfSight(open)) !== null || (await isLeft(open))) continue;
    const lease = await claimOneHandover(pool, open.id, nodeId, leaseSeconds);
    if (lease !== null) return lease;
  }
  return null;
}
