// Which process a number means: numbers are given again, and a familiar one may be anybody's by now.
import fs from "node:fs";

/**
 * @typedef {{ pid: number, started: string, program: string }} ProcessIdentity `started` in ticks since the
 * machine's start, with which start of the machine that was; `program` is the file that it runs
 */

/** @param {number} pid @returns {ProcessIdentity | null} null where there is no such process, or nothing is told of it */
export function identityOf(pid) {
  try {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
    // Behind the name, which may hold blanks and brackets: the 20th of what follows.
    const ticks = stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19];
    const boot = fs.readFileSync("/proc/sys/kernel/random/boot_id", "utf8").trim();
    return { pid, started: `${boot} ${ticks}`, program: fs.readlinkSync(`/proc/${pid}/exe`) };
  } catch {
    return null;
  }
}

/** @param {unknown} known as it was written down @returns {known is ProcessIdentity} whether it still runs */
export function isRunning(known) {
  if (typeof known !== "object" || known === null) return false;
  const { pid, started, program } = /** @type {Record<string, unknown>} */ (known);
  if (typeof pid !== "number" || !Number.isInteger(pid) || pid < 2) return false;
  const now = identityOf(pid);
  return now !== null && now.started === started && now.program === program;
}
