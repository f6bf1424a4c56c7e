/**
 * The demo's shot HL020 with a real database, real node processes and real files, for benchmarks of whole
 * runs.
 */
import { type ChildProcess, spawn } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import type { Plan } from "@/core/plan/plan";
import { copyScenes } from "@/demo/seed";
import { PROJECT, SHOTS } from "@/demo/project";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { listNodes } from "@/server/store/nodes";
import { insertProject } from "@/server/store/projects";
import { insertShot } from "@/server/store/shots";
import { openVersion } from "@/server/actions/save-plan";

const LOOK_MS = 100;
const PATIENCE_MS = 300_000;

export async function until(what: string, isTrue: () => Promise<boolean>): Promise<void> {
  const deadline = performance.now() + PATIENCE_MS;
  while (!(await isTrue())) {
    if (performance.now() > deadline) throw new Error(`It did not come true: ${what}`);
    await pause(LOOK_MS);
  }
}

/** A storage root of the benchmark's own, with nothing in it. */
export async function emptyRoot(home: string): Promise<string> {
  const root = path.join(home, "var/bench-frames");
  await fs.rm(root, { recursive: true, force: true });
  await fs.mkdir(root, { recursive: true });
  process.env.PLAIN_TALLY_ROOTS = `frames=${root}`;
  return root;
}

export interface RealRun {
  readonly plan: Plan;
  readonly sequenceId: number;
  startNode(name: string): Promise<ChildProcess>;
}

/** @param change settings that differ from the shot's plan */
export async function withRealRun<T>(
  home: string,
  change: Partial<Plan>,
  work: (run: RealRun) => Promise<T>,
): Promise<T> {
  const root = await emptyRoot(home);
  const nodes: ChildProcess[] = [];
  try {
    await migrate(pool(), path.join(home, "db"));
    await copyScenes();
    const shot = SHOTS.find((s) => s.code === "HL020")!;
    const plan = { ...shot.plan, ...change };
    const projectId = await insertProject(pool(), PROJECT);
    await insertShot(pool(), {
      projectId,
      code: shot.code,
      title: shot.title,
      firstFrame: shot.first,
      lastFrame: shot.last,
      markers: shot.markers,
    });
    const { sequenceId } = await openVersion(shot.code, plan);
    return await work({
      plan,
      sequenceId,
      startNode: async (name) => {
        const node = spawn(
          process.execPath,
          [path.join(home, "bin/plain-tally.mjs"), "node", "--name", name],
          { env: { ...process.env, NODE_ENV: "production" }, stdio: "ignore" },
        );
        nodes.push(node);
        await until(`${name} is there`, async () =>
          (await listNodes(pool())).some((n) => n.name === name && n.pid === node.pid),
        );
        return node;
      },
    });
  } finally {
    for (const node of nodes) node.kill("SIGTERM");
    await closePool();
    await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
  }
}
