/** Processor time of processes, as the system counts it. */
import fs from "node:fs";

/** Of /proc: hundredths of a second. */
const TICKS = 100;

/** Seconds of processor time, user and system (proc(5): fields 14 and 15). */
export function cpuSeconds(pid: number): number {
  const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  return (Number(fields[11]) + Number(fields[12])) / TICKS;
}
