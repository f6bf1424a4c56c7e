/**
 * What a process and all that it has started use now, as the system counts it. A program of its own is often
 * a script that starts the one which computes. Linux alone: elsewhere nothing can be told.
 */
import fs from "node:fs";
import { addAll } from "@/core/many";

const PAGE_BYTES = 4_096;
/** Linux counts processor time in these for everybody who asks, whatever the kernel itself counts in. */
const TICKS_A_SECOND = 100;

export interface ProcessFigures {
  /** Resident, added up. */
  readonly memoryMb: number;
  /** Used since they started, and by what they had started and have seen end. */
  readonly cpuSeconds: number;
}

/** Of one process alone; throws where it has ended. */
function figuresOfOne(pid: number): ProcessFigures {
  // Second figure: resident pages.
  const resident = Number(fs.readFileSync(`/proc/${pid}/statm`, "utf8").split(" ")[1]);
  const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
  // Behind the name, which may hold blanks and brackets: user and system time, own and of children that ended.
  const ticks = stat
    .slice(stat.lastIndexOf(")") + 2)
    .split(" ")
    .slice(11, 15)
    .reduce((sum, field) => sum + Number(field), 0);
  return { memoryMb: (resident * PAGE_BYTES) / 1e6, cpuSeconds: ticks / TICKS_A_SECOND };
}

/** Started by any of its threads, and still there. */
function childrenOf(pid: number): number[] {
  try {
    return fs
      .readdirSync(`/proc/${pid}/task`)
      .flatMap((thread) => fs.readFileSync(`/proc/${pid}/task/${thread}/children`, "utf8").split(" "))
      .map(Number)
      .filter((child) => child > 0);
  } catch {
    // It has ended meanwhile.
    return [];
  }
}

/** Of a process and its descendants; null where it has ended, or the system does not tell. */
export function processTreeFigures(pid: number): ProcessFigures | null {
  let memoryMb = 0;
  let cpuSeconds = 0;
  const asked = [pid];
  for (const one of asked) {
    try {
      const own = figuresOfOne(one);
      memoryMb += own.memoryMb;
      cpuSeconds += own.cpuSeconds;
    } catch {
      if (one === pid) return null;
      continue;
    }
    addAll(
      asked,
      childrenOf(one).filter((child) => !asked.includes(child)),
    );
  }
  return { memoryMb, cpuSeconds };
}
