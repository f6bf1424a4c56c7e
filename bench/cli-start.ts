/** How long the command line takes to start, for a command that needs nothing but the core. */
import { median } from "@/core/many";
import { spawnSync } from "node:child_process";
import path from "node:path";
import { type Measured, rounded, timeEach } from "./measured";

const TIMES = 15;
const MOST = 4;

export function cliStart(home: string): Measured {
  const run = (args: readonly string[]): void => {
    const { status, stderr } = spawnSync(process.execPath, args, { encoding: "utf8" });
    if (status !== 0) throw new Error(stderr);
  };
  const program = path.join(home, "bin/plain-tally.mjs");
  const command = (): void => run([program, "frames", "1-10"]);
  // The first reads everything from the disk.
  command();
  const value = median(timeEach(TIMES, command));
  const yardstick = median(timeEach(TIMES, () => run(["-e", "0"])));
  const ratio = value / yardstick;
  return {
    name: "cli-start",
    value: rounded(value),
    unit: "ms",
    yardstick: rounded(yardstick),
    ratio: rounded(ratio),
    goal: `\`plain-tally frames 1-10\` in at most ${MOST} times \`node -e 0\` (the yardstick)`,
    holds: ratio <= MOST,
  };
}
