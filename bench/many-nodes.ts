/**
 * Eight nodes, each with connections and a memory of its own, on ten thousand frames of next to no work,
 * against the bare round trips of the same statements.
 */
import { makePool } from "@/server/db/pool";
import { type Measured, rounded } from "./measured";
import { againstBare, CLIENTS, type Slice, withQueue } from "./queue-tools";

const FRAMES = 10_000;
const SLICES = 10;
const LIMIT = 0.8;

export const manyNodes = (home: string, databaseUrl: string): Promise<Measured> =>
  withQueue(home, databaseUrl, async (pool, node) => {
    const pools = Array.from({ length: CLIENTS }, () => makePool(databaseUrl, 2));
    try {
      const slices = await againstBare(pool, pools, node, FRAMES, SLICES);
      const rate = (seconds: (slice: Slice) => number): number =>
        FRAMES / slices.reduce((sum, slice) => sum + seconds(slice), 0);
      const [value, yardstick] = [rate((s) => s.ours), rate((s) => s.bare)];
      return {
        name: "many-nodes",
        value: rounded(value),
        unit: "frames/s",
        yardstick: rounded(yardstick),
        ratio: rounded(value / yardstick),
        goal: `${CLIENTS} nodes on ${FRAMES.toLocaleString("en")} frames of next to no work keep at least ${LIMIT} of the bare round trips (the yardstick)`,
        holds: value / yardstick >= LIMIT,
      };
    } finally {
      await Promise.all(pools.map((p) => p.end()));
    }
  });
