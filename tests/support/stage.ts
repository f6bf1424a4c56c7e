/**
 * A stage for tests that need the real things: a schema of its own on the private MariaDB, a storage
 * root of its own, and real node and server processes that end with it.
 */
import { type ChildProcess, execFile, spawn } from "node:child_process";
import fs from "node:fs/promises";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { promisify } from "node:util";
import mysql from "mysql2/promise";
import type { Configuration } from "@/contract/configuration";
import type { Plan } from "@/core/plan/plan";
import { closePool, pool } from "@/server/db/pool";
import { migrate } from "@/server/db/migrate";
import { PLAN, RATE } from "./plan";
import { writeScene } from "./scene";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";

export const HOME = process.env.PLAIN_TALLY_HOME ?? path.resolve(__dirname, "../..");

/** As short as the product allows, so that taking over does not take long. */
export const TEST_LEASE_SECONDS = 3;

/** How long a fact may take to come true on a busy machine. */
const PATIENCE_MS = 300_000;
const LOOK_MS = 60;

/** Waits for a fact, not for a time. */
export async function until<T>(what: string, find: () => Promise<T | null | undefined | false>): Promise<T> {
  for (const deadline = Date.now() + PATIENCE_MS; ; await pause(LOOK_MS)) {
    const found = await find();
    if (found !== null && found !== undefined && found !== false) return found;
    if (Date.now() > deadline)
      throw new Error(`In ${PATIENCE_MS / 1000} s it did not come true: ${what}${lastWords()}`);
  }
}

const PROJECT = { slug: "test-film", title: "Test Film", rate: RATE, root: "frames", folder: "test-film" };

export interface Ended {
  readonly code: number;
  readonly stdout: string;
  readonly stderr: string;
}

export interface Stage {
  readonly env: Readonly<Record<string, string>>;
  readonly root: string;
  readonly projectFolder: string;
  /** Makes a shot with its first version; returns the sequence. */
  addShot(
    code: string,
    plan?: Partial<Plan>,
  ): Promise<{ readonly sequenceId: number; readonly versionId: number; readonly folder: string }>;
  /** Starts a real node process and waits until it has registered. */
  startNode(name: string, ...options: string[]): Promise<ChildProcess>;
  /** Starts the built server on a free port. */
  startServer(): Promise<{ readonly address: string; readonly process: ChildProcess }>;
  cli(...args: string[]): Promise<Ended>;
  /** The database is gone, and an empty one stands in its place. */
  loseDatabase(): Promise<void>;
  /** Ends what was started and removes what was made. */
  strike(): Promise<void>;
}

let count = 0;

/** So much of what a process said last is kept, for the message when it ends by itself. */
const LAST_WORDS = 4_000;
const said = new WeakMap<ChildProcess, string>();
/** Processes of the stage that is open, by what they were started with. */
const playing = new Map<ChildProcess, string>();
/** So much of each is told where a fact did not come true. */
const TOLD = 800;
const lastWords = (): string =>
  [...playing].map(([child, args]) => `\n--- ${args}\n${(said.get(child) ?? "").slice(-TOLD)}`).join("");

/**
 * Kills a process at once and waits until it has gone.
 * @throws where it had ended by itself before, with its last words: nothing may end unasked
 */
export async function killAndWait(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null)
    throw new Error(
      `Process ${child.pid} had ended by itself (${child.exitCode ?? child.signalCode}):\n${said.get(child) ?? ""}`,
    );
  const over = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGKILL");
  await over;
}

/** Nothing is in it any more: what was there is lost. @param url of a user that may make databases */
export async function emptyDatabase(url: string, schema: string): Promise<void> {
  const admin = await mysql.createConnection(url);
  // Tables are dropped one by one, and name one another.
  await admin.query("SET foreign_key_checks = 0");
  await admin.query(`CREATE OR REPLACE DATABASE \`${schema}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  await admin.end();
}

export async function openStage(
  databaseUrl = process.env.PLAIN_TALLY_TEST_DATABASE,
  configuration: Configuration = {},
): Promise<Stage> {
  if (databaseUrl === undefined) throw new Error("No test database: run the tests with `npm test`.");
  const schema = `stage_${process.pid}_${++count}`;
  const url = new URL(databaseUrl);
  await emptyDatabase(databaseUrl, schema);
  url.pathname = `/${schema}`;
  const root = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-stage-"));
  const configurationFile = path.join(root, "plain-tally.config.json");
  await fs.writeFile(configurationFile, JSON.stringify(configuration));
  const env = {
    PLAIN_TALLY_HOME: HOME,
    PLAIN_TALLY_CONFIG: configurationFile,
    PLAIN_TALLY_DATABASE_URL: url.href,
    PLAIN_TALLY_ROOTS: `frames=${root}`,
  };
  Object.assign(process.env, env);
  await migrate(pool(), path.join(HOME, "db"));
  const projectFolder = path.join(root, PROJECT.folder);
  await writeScene(projectFolder);
  await createProject(PROJECT);
  const started: ChildProcess[] = [];
  const start = (args: readonly string[]): ChildProcess => {
    const child = spawn(process.execPath, args, {
      cwd: HOME,
      env: { ...process.env, ...env, NODE_ENV: "production" },
      stdio: ["ignore", "pipe", "pipe"],
    });
    // Read, so that a full pipe never stops the process.
    const hear = (text: Buffer): void =>
      void said.set(child, `${said.get(child) ?? ""}${text.toString()}`.slice(-LAST_WORDS));
    child.stdout!.on("data", hear);
    child.stderr!.on("data", hear);
    started.push(child);
    playing.set(child, args.join(" "));
    return child;
  };

  return {
    env,
    root,
    projectFolder,
    async addShot(code, plan = {}) {
      const facts = {
        code,
        title: `test ${code}`,
        firstFrame: 1,
        lastFrame: 24,
        markers: [{ name: "start", first: 1, end: 5 }],
      };
      const saved = await makeShot(PROJECT.slug, facts, { ...PLAN, ...plan });
      return {
        sequenceId: saved.sequenceId,
        versionId: saved.revision.versionId,
        folder: path.join(projectFolder, code, "v001", (plan.cameras ?? PLAN.cameras)[0]!, "beauty"),
      };
    },
    async startNode(name, ...options) {
      const child = start([
        "bin/plain-tally.mjs",
        "node",
        "--name",
        name,
        "--lease",
        String(TEST_LEASE_SECONDS),
        ...options,
      ]);
      await until(`node ${name} has registered`, async () => {
        if (child.exitCode !== null) throw new Error(`node ${name} ended with ${child.exitCode}`);
        const [found] = await pool().query("SELECT 1 FROM node WHERE name = ? AND pid = ?", [
          name,
          child.pid,
        ]);
        return (found as unknown[]).length > 0;
      });
      return child;
    },
    async startServer() {
      const port = await freePort();
      const child = start([
        "node_modules/next/dist/bin/next",
        "start",
        "-H",
        "127.0.0.1",
        "-p",
        String(port),
      ]);
      const address = `http://127.0.0.1:${port}`;
      await until(
        "the server answers",
        async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok,
      );
      return { address, process: child };
    },
    cli: (...args) => runCli(args, env),
    async loseDatabase() {
      await closePool();
      await emptyDatabase(databaseUrl, schema);
      await migrate(pool(), path.join(HOME, "db"));
    },
    async strike() {
      await Promise.all(started.map(end));
      for (const child of started) playing.delete(child);
      await pool()
        .query(`DROP DATABASE IF EXISTS ${schema}`)
        .catch(() => undefined);
      await closePool();
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

async function end(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGCONT");
  child.kill("SIGTERM");
  const late = setTimeout(() => child.kill("SIGKILL"), 10_000);
  await over;
  clearTimeout(late);
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.on("error", reject);
    server.listen(0, "127.0.0.1", () => {
      const { port } = server.address() as net.AddressInfo;
      server.close(() => resolve(port));
    });
  });
}

/** Runs the built command line as a user would. */
export async function runCli(
  args: readonly string[],
  env: Readonly<Record<string, string>> = {},
  input = "",
): Promise<Ended> {
  const running = promisify(execFile)(process.execPath, [path.join(HOME, "bin/plain-tally.mjs"), ...args], {
    env: { ...process.env, ...env },
    maxBuffer: 1 << 28,
  });
  running.child.stdin?.end(input);
  try {
    const { stdout, stderr } = await running;
    return { code: 0, stdout, stderr };
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string };
    return { code, stdout, stderr };
  }
}
