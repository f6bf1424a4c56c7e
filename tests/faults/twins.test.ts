/** Two nodes of one name whose processes have the same number, as in two containers. */
import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import path from "node:path";
import { closePool, pool } from "@/server/db/pool";
import { listNodes } from "@/server/store/nodes";
import { HOME, openStage, type Stage, TEST_LEASE_SECONDS, until } from "../support/stage";

function canUnshare(): boolean {
  try {
    execFileSync("unshare", ["--pid", "--fork", "true"], { stdio: "pipe" });
    return true;
  } catch (error) {
    process.stderr.write(
      `The test with equal process numbers is skipped: namespaces are not allowed here (${String(error)})\n`,
    );
    return false;
  }
}
const testTwins = canUnshare() ? test : test.skip;

let stage: Stage;
const started: ChildProcess[] = [];
beforeEach(async () => {
  stage = await openStage();
});
afterEach(async () => {
  for (const child of started.splice(0)) await endOf(child, () => child.kill("SIGKILL"));
  await stage.strike();
  await closePool();
});

const endOf = (child: ChildProcess, end: () => void): Promise<number | null> =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve(child.exitCode);
    child.once("exit", resolve);
    end();
  });

/** A node that is process 1 of a namespace of its own. */
function startTwin(): { readonly child: ChildProcess; readonly said: () => string } {
  let text = "";
  const child = spawn(
    "unshare",
    [
      ...[
        "--pid",
        "--fork",
        "--kill-child",
        process.execPath,
        path.join(HOME, "bin/plain-tally.mjs"),
        "node",
      ],
      ...["--name", "twin", "--lease", String(TEST_LEASE_SECONDS * 4)],
    ],
    { env: { ...process.env, ...stage.env, NODE_ENV: "production" }, stdio: ["ignore", "pipe", "pipe"] },
  );
  for (const stream of [child.stdout, child.stderr])
    stream.on("data", (part: Buffer) => (text += part.toString()));
  started.push(child);
  return { child, said: () => text };
}
const session = async (): Promise<string | null> =>
  (await listNodes(pool())).find((n) => n.name === "twin")?.session ?? null;

testTwins(
  "the second does not take the first one's name while that lives, and does so once it is gone",
  async () => {
    const first = startTwin();
    await until("the first is there", () => Promise.resolve(first.said().includes("ready")));
    const own = await session();
    expect((await listNodes(pool()))[0]!.pid).toBe(1);

    const second = startTwin();
    expect(await endOf(second.child, () => undefined)).not.toBe(0);
    expect(second.said()).toContain("A node named twin works already");
    expect([await session(), first.child.exitCode]).toEqual([own, null]);

    await endOf(first.child, () => first.child.kill("SIGKILL"));
    const third = startTwin();
    await until("the third is there", () => Promise.resolve(third.said().includes("ready")));
    expect(await session()).not.toBe(own);
  },
);
