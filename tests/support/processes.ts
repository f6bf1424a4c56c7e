/** Processes that a test looks at, or ends, from outside. */
import type { ChildProcess } from "node:child_process";
import fs from "node:fs/promises";

/** The renderer that a node has started; null where it has none now. */
export async function rendererOf(node: ChildProcess): Promise<number | null> {
  const children = await fs.readFile(`/proc/${node.pid}/task/${node.pid}/children`, "utf8").catch(() => "");
  const pid = Number(children.trim().split(" ")[0]);
  return pid > 0 ? pid : null;
}

/** Also one that ended, and whose parent has not asked how. */
export async function isGone(pid: number): Promise<boolean> {
  const status = await fs.readFile(`/proc/${pid}/status`, "utf8").catch(() => null);
  return status === null || /^State:\s+Z/m.test(status);
}

/** Between finding a process and killing it, it may end by itself: false then. */
export function killIfThere(pid: number): boolean {
  try {
    return process.kill(pid, "SIGKILL");
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ESRCH") return false;
    throw error;
  }
}

/** Processes of one stage, by its configuration file, whose command line holds a text: nobody else's are ended. */
export async function processesWith(text: string, configuration: string): Promise<number[]> {
  const found: number[] = [];
  for (const name of await fs.readdir("/proc")) {
    if (!/^\d+$/.test(name)) continue;
    const [line, environment] = await Promise.all(
      ["cmdline", "environ"].map((file) => fs.readFile(`/proc/${name}/${file}`, "utf8").catch(() => "")),
    );
    const isOfStage = environment!.split("\0").includes(`PLAIN_TALLY_CONFIG=${configuration}`);
    if (isOfStage && line!.replaceAll("\0", " ").includes(text)) found.push(Number(name));
  }
  return found;
}
