/** Memory that a process holds now, in MB; null where the system does not tell. */
import fs from "node:fs";

const PAGE_BYTES = 4_096;

/** Of the process alone; what it started is counted by the caller. */
export function processMemoryMb(pid: number): number | null {
  try {
    // Second figure: resident pages.
    const resident = Number(fs.readFileSync(`/proc/${pid}/statm`, "utf8").split(" ")[1]);
    return Number.isFinite(resident) ? (resident * PAGE_BYTES) / 1e6 : null;
  } catch {
    return null;
  }
}
