/**
 * Lease and complete with eight clients, against as many bare round trips of the same statements on
 * rows that nobody competes for; and the time to lease with many waiting tasks against few.
 */
import { type Measured, rounded } from "./measured";
import { againstBare, leaseTimes, type Slice, withQueue } from "./queue-tools";

const TASKS = 12_000;
const SLICES = 10;
const MANY = 200_000;

export const queue = (home: string, databaseUrl: string): Promise<Measured> =>
  withQueue(home, databaseUrl, async (pool, node) => {
    const slices = await againstBare(pool, [pool], node, TASKS, SLICES);
    const rate = (seconds: (slice: Slice) => number): number =>
      TASKS / slices.reduce((sum, slice) => sum + seconds(slice), 0);
    const [value, yardstick] = [rate((s) => s.ours), rate((s) => s.bare)];
    const ratio = value / yardstick;
    const { many, few } = await leaseTimes(pool, node, MANY);
    const growth = many / few;
    return {
      name: "queue",
      value: rounded(value),
      unit: "tasks/s",
      yardstick: rounded(yardstick),
      ratio: rounded(ratio),
      goal: `at least 0.8 of the same statements bare; a lease with 200,000 waiting takes at most 1.5 times one with 1,000 (measured ${growth.toFixed(2)}: ${many.toFixed(2)} ms and ${few.toFixed(2)} ms)`,
      holds: ratio >= 0.8 && growth <= 1.5,
    };
  });
