// npm run demo: from a bare checkout to a running "Harbour Lights". Ctrl-C ends all of it.
import { spawn } from "node:child_process";
import fs from "node:fs";
import net from "node:net";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { parseArgs } from "node:util";
import { ensureBuild, ensurePackages, ensurePrograms, MARIADB, requireNode } from "./lib/prepare.mjs";
import { run, step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const stateFile = path.join(home, "var/run/state.json");
const DEFAULT_PORT = 4310;
const READY_SECONDS = 60;
const RESTART_MS = 6_000;

/** The three stand-in nodes, the second start option list only for a demo that begins. */
const NODES = [
  { name: "quay-1", faults: [] },
  { name: "quay-2", faults: ["--die-in-frame", "9", "--slow", "1.4"] },
  { name: "mole-1", faults: ["--unproven", "--hide", "textures/tower.png:6"] },
];

function readOptions() {
  try {
    const { values } = parseArgs({
      options: { port: { type: "string" }, fresh: { type: "boolean", default: false } },
    });
    const port = values.port === undefined ? DEFAULT_PORT : Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      throw new Stop(`--port must be a number from 1 to 65535; it is "${values.port}".`);
    return { port, fresh: values.fresh };
  } catch (error) {
    throw error instanceof Stop
      ? error
      : new Stop(`${error.message}\nUsage: npm run demo -- [--port N] [--fresh]`);
  }
}

function requireFreePort(port) {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.on("error", (error) =>
      reject(
        new Stop(
          error.code === "EADDRINUSE"
            ? `Port ${port} is taken by another program. Choose another: npm run demo -- --port ${port + 1}`
            : `Port ${port} cannot be used: ${error.message}`,
        ),
      ),
    );
    server.listen(port, "127.0.0.1", () => server.close(() => resolve(undefined)));
  });
}

/** A process that works inside this checkout; its name says nothing, Next changes it. @param {number} pid */
const isOurs = (pid) => {
  try {
    return (fs.realpathSync(`/proc/${pid}/cwd`) + path.sep).startsWith(fs.realpathSync(home) + path.sep);
  } catch {
    return false;
  }
};

/** A demo of this checkout that runs is left alone; what a killed one left behind is ended first. */
async function settleEarlier() {
  if (!fs.existsSync(stateFile)) return;
  const state = JSON.parse(fs.readFileSync(stateFile, "utf8"));
  const script = fs.existsSync(`/proc/${state.demo}/cmdline`)
    ? fs.readFileSync(`/proc/${state.demo}/cmdline`, "utf8")
    : "";
  if (script.includes("demo.mjs") && isOurs(state.demo))
    throw new Stop(`The demo of this checkout runs already, at ${state.address} (process ${state.demo}).`);
  const left = (state.pids ?? []).filter(isOurs);
  for (const pid of left) process.kill(pid, "SIGTERM");
  for (let i = 0; i < 100 && left.some(isOurs); i++) await pause(100);
  fs.rmSync(stateFile);
}

const children = new Map();
let stopping = false;
/** Only what this process wrote is removed at its end: another demo of this checkout may run. */
let ownsState = false;
/** @type {Awaited<ReturnType<typeof import("./lib/mariadb.mjs").startMariadb>> | null} */
let database = null;

function start(name, args, env, onExit = () => undefined) {
  const log = fs.openSync(path.join(home, `var/log/${name}.log`), "a");
  const child = spawn(process.execPath, args, {
    cwd: home,
    env: { ...process.env, PLAIN_TALLY_HOME: home, ...env },
    detached: true,
    stdio: ["ignore", log, log],
  });
  fs.closeSync(log);
  children.set(name, child);
  child.on("exit", (code, signal) => {
    children.delete(name);
    if (!stopping) onExit(code, signal);
  });
  return child;
}

async function stopAll(reason) {
  if (stopping) return;
  stopping = true;
  if (children.size === 0 && database === null) return;
  step(`${reason}; ending nodes, server and database`);
  const ends = [...children.values()].map((child) => new Promise((resolve) => child.once("exit", resolve)));
  for (const child of children.values()) child.kill("SIGTERM");
  const late = setTimeout(() => {
    for (const child of children.values()) child.kill("SIGKILL");
  }, 8_000);
  await Promise.all(ends);
  clearTimeout(late);
  await database?.stop();
  if (ownsState) fs.rmSync(stateFile, { force: true });
  step("Ended.");
}

async function main() {
  const options = readOptions();
  requireNode();
  await settleEarlier();
  await requireFreePort(options.port);
  await ensurePrograms(MARIADB);
  await ensurePackages(home);
  await ensureBuild(home);
  if (options.fresh) {
    step("Starting over: clearing the demo's database and frames");
    for (const place of ["var/mariadb", "var/frames", "var/log"])
      fs.rmSync(path.join(home, place), { recursive: true, force: true });
  }
  for (const place of ["var/run", "var/log", "var/frames"])
    fs.mkdirSync(path.join(home, place), { recursive: true });
  step("Starting the private database");
  const { startMariadb } = await import("./lib/mariadb.mjs");
  database = await startMariadb(path.join(home, "var/mariadb"));
  const address = `http://127.0.0.1:${options.port}`;
  const env = {
    PLAIN_TALLY_HOME: home,
    PLAIN_TALLY_DATABASE_URL: database.url,
    PLAIN_TALLY_ROOTS: `frames=${path.join(home, "var/frames")}`,
  };
  await run(process.execPath, ["bin/plain-tally.mjs", "migrate"], { cwd: home, env });
  step("Database up to date");

  const server = start(
    "server",
    ["node_modules/next/dist/bin/next", "start", "-H", "127.0.0.1", "-p", String(options.port)],
    { ...env, NODE_ENV: "production", NEXT_TELEMETRY_DISABLED: "1" },
    () => void stopAll("The server ended by itself (see var/log/server.log)"),
  );
  const seeded = JSON.parse(await run(process.execPath, ["dist/demo.mjs", "seed"], { cwd: home, env }));
  if (seeded.fresh) step('Made the project "Harbour Lights"');
  // Renamed into place: other processes read it at any moment.
  const saveState = () => {
    fs.writeFileSync(
      `${stateFile}.new`,
      JSON.stringify({
        demo: process.pid,
        address,
        databaseUrl: database.url,
        pids: [database.pid, ...[...children.values()].map((c) => c.pid)],
      }),
      { mode: 0o600 },
    );
    fs.renameSync(`${stateFile}.new`, stateFile);
    ownsState = true;
  };
  for (const deadline = Date.now() + READY_SECONDS * 1000; ; await pause(150)) {
    if (stopping) return;
    if (Date.now() > deadline) throw new Stop("The server does not answer; see var/log/server.log.");
    if ((await fetch(`${address}/api/health`).catch(() => null))?.ok) break;
  }
  const startNode = ({ name, faults }) => {
    start(`node-${name}`, ["bin/plain-tally.mjs", "node", "--name", name, ...faults], env, (code, signal) => {
      step(
        `${name} ended (${signal ?? code}); it comes back in ${RESTART_MS / 1000} s, its frame goes to another node`,
      );
      setTimeout(() => {
        if (!stopping) startNode({ name, faults: [] });
      }, RESTART_MS);
    });
    saveState();
  };
  for (const node of NODES) startNode(seeded.messed ? { name: node.name, faults: [] } : node);
  if (!seeded.messed)
    start("mess", ["dist/demo.mjs", "mess"], env, (code) =>
      step(
        code === 0
          ? "HL010 is rendered, and the harbour's mischief has been at its files"
          : "The mischief on HL010's files failed; see var/log/mess.log",
      ),
    );
  saveState();
  step(`Nodes ${NODES.map((n) => n.name).join(", ")} at work`);
  process.stdout.write(
    `\n    Plain Tally is at  ${address}\n\n    Ctrl-C ends it. Logs are in var/log, frames in var/frames.\n\n`,
  );
  void server;
}

for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"])
  process.on(signal, () => void stopAll("Stopping").then(() => process.exit(0)));
main().catch(async (error) => {
  process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`);
  await stopAll("Stopped");
  process.exit(1);
});
