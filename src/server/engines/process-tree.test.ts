import { spawn } from "node:child_process";
import { once } from "node:events";
import { processTreeFigures } from "./process-tree";

/** A script that starts a program which computes until its input ends, and holds some memory. */
const COMPUTES = `const held = Buffer.alloc(60_000_000, 1);
  process.stdin.on("end", () => process.exit()).resume();
  console.log("begun", held.length);
  const go = () => { for (const until = Date.now() + 20; Date.now() < until;); setImmediate(go); };
  go();`;

test("what a script has started counts as its own: memory and processor time", async () => {
  const child = spawn("sh", ["-c", `"$0" -e "$1"; true`, process.execPath, COMPUTES], {
    stdio: ["pipe", "pipe", "inherit"],
  });
  try {
    await once(child.stdout, "data");
    const before = processTreeFigures(child.pid!)!;
    let now = before;
    while (now.cpuSeconds < before.cpuSeconds + 0.2) {
      await new Promise((resolve) => setImmediate(resolve));
      now = processTreeFigures(child.pid!)!;
    }
    expect(now.memoryMb).toBeGreaterThan(60);
    child.stdin.end();
    await once(child, "close");
    expect(processTreeFigures(child.pid!)).toBeNull();
  } finally {
    child.stdin.destroy();
  }
});
