/**
 * What the queue itself takes of a frame, from asking for it to closing it, for one node; against a bare
 * round trip to the database.
 */
import { median } from "@/core/many";
import { finish, holdLease, renew } from "@/server/queue/lease";
import { transact } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { type Measured, rounded } from "./measured";
import { newRun, NOTHING, withQueue } from "./queue-tools";
import { claim } from "@/server/queue/claim";
import { describeLease } from "@/server/queue/leased-frame";

const FRAMES = 600;
const LIMIT_MS = 10;

export const queueOverhead = (home: string, databaseUrl: string): Promise<Measured> =>
  withQueue(home, databaseUrl, async (pool, node) => {
    await newRun(pool, FRAMES);
    const ours: number[] = [];
    const bare: number[] = [];
    for (let i = 0; i < FRAMES; i++) {
      const began = performance.now();
      const lease = await claim(pool, node);
      if (lease === null) throw new Error("There was nothing to lease.");
      await describeLease(pool, lease);
      await renew(pool, lease, 0.5);
      await transact(async (tx) => {
        await holdLease(tx, lease);
        await finish(tx, lease, NOTHING);
      }, pool);
      const between = performance.now();
      await rows(pool, "SELECT 1");
      ours.push(between - began);
      bare.push(performance.now() - between);
    }
    const [value, yardstick] = [median(ours), median(bare)];
    return {
      name: "queue-overhead",
      value: rounded(value),
      unit: "ms",
      yardstick: rounded(yardstick),
      ratio: rounded(value / yardstick),
      goal: `under ${LIMIT_MS} ms a frame to lease, describe, renew and close it; the yardstick is one bare round trip`,
      holds: value < LIMIT_MS,
    };
  });
