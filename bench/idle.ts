/** What a house costs while nobody wants anything: its server and three nodes, in processor time and memory. */
import fs from "node:fs";
import { setTimeout as pause } from "node:timers/promises";
import { cpuSeconds } from "./cpu";
import { type Measured, rounded } from "./measured";
import { withRealRun } from "./real-run";
import { withServer } from "./real-server";

const NODES = ["idle-1", "idle-2", "idle-3"] as const;
/** Until what a start does once is done. */
const SETTLE_MS = 20_000;
const WATCH_MS = 60_000;
const MOST_PERCENT = 2;
const MOST_MB = 500;

/** A process with all that it has started. */
function treeOf(pid: number): number[] {
  const children = fs
    .readdirSync(`/proc/${pid}/task`)
    .flatMap((task) => fs.readFileSync(`/proc/${pid}/task/${task}/children`, "utf8").trim().split(" "))
    .filter((child) => child !== "");
  return [pid, ...children.flatMap((child) => treeOf(Number(child)))];
}

/** Its share of memory in MB: what several processes have in common is counted once. */
const memoryMb = (pid: number): number =>
  Number(/^Pss: +(\d+) kB/m.exec(fs.readFileSync(`/proc/${pid}/smaps_rollup`, "utf8"))![1]) / 1024;

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

export const idle = (home: string): Promise<Measured> =>
  withRealRun(home, { frames: "1001" }, ({ startNode }) =>
    withServer(home, async ({ process: server }) => {
      const nodes = [];
      for (const name of NODES) nodes.push(await startNode(name));
      await pause(SETTLE_MS);
      const pids = [server, ...nodes].flatMap(({ pid }) => treeOf(pid!));
      const before = sum(pids.map(cpuSeconds));
      await pause(WATCH_MS);
      const percent = ((sum(pids.map(cpuSeconds)) - before) / (WATCH_MS / 1000)) * 100;
      const mb = sum(pids.map(memoryMb));
      return {
        name: "idle",
        value: rounded(percent),
        unit: "% of one core",
        yardstick: MOST_PERCENT,
        ratio: rounded(percent / MOST_PERCENT),
        goal: `a server and three idle nodes together under ${MOST_PERCENT} % of one core (the yardstick), and under ${MOST_MB} MB (${Math.round(mb)} MB, proportional)`,
        holds: percent < MOST_PERCENT && mb < MOST_MB,
      };
    }),
  );
