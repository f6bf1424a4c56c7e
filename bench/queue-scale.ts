/** The time to lease with a million tasks waiting, against a thousand. */
import { type Measured, rounded } from "./measured";
import { leaseTimes, withQueue } from "./queue-tools";

const MANY = 1_000_000;
const LIMIT = 1.5;

export const queueScale = (home: string, databaseUrl: string): Promise<Measured> =>
  withQueue(home, databaseUrl, async (pool, node) => {
    const { many, few } = await leaseTimes(pool, node, MANY);
    return {
      name: "queue-scale",
      value: rounded(many),
      unit: "ms",
      yardstick: rounded(few),
      ratio: rounded(many / few),
      goal: `a lease with ${MANY.toLocaleString("en")} tasks waiting takes at most ${LIMIT} times one with 1,000 (the yardstick)`,
      holds: many / few <= LIMIT,
    };
  });
